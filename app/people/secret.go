package people

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"runtime"
	"strings"

	"golang.org/x/crypto/argon2"
)

// Argon2id at 19 MiB, two passes, one lane: OWASP's password storage guidance,
// value from memory; about 60 ms on a small machine.
const (
	argonMemory = 19 * 1024
	argonPasses = 2
	argonLanes  = 1
	argonKey    = 32
	argonSalt   = 16
)

// mostHashes is how many passwords are worked on at once, four or as many as there are
// processors: each takes argonMemory, and a hundred tries at a time are not to take it a
// hundred times.
var mostHashes = min(4, runtime.GOMAXPROCS(0))

// hashing holds a place for each that is worked on: one for the whole program, because it
// is the program's memory.
var hashing = make(chan struct{}, mostHashes)

// takeTurn waits for one of the places; the context ends the waiting.
func takeTurn(ctx context.Context) (done func(), err error) {
	select {
	case hashing <- struct{}{}:
		return func() { <-hashing }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// HashSecret hashes a password in the usual encoded form, in its turn.
func HashSecret(ctx context.Context, secret string) (string, error) {
	done, err := takeTurn(ctx)
	if err != nil {
		return "", err
	}
	defer done()
	salt := make([]byte, argonSalt)
	// crypto/rand.Read never fails; it ends the program instead.
	_, _ = rand.Read(salt)
	key := argon2.IDKey([]byte(secret), salt, argonPasses, argonMemory, argonLanes, argonKey)
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonPasses, argonLanes,
		base64.RawStdEncoding.EncodeToString(salt), base64.RawStdEncoding.EncodeToString(key)), nil
}

// SecretMatches compares in constant time, in its turn. A hash that cannot be read, such as
// that of nobody, costs the same time and never matches.
func SecretMatches(ctx context.Context, hash, secret string) (bool, error) {
	done, err := takeTurn(ctx)
	if err != nil {
		return false, err
	}
	defer done()
	return matches(hash, secret), nil
}

func matches(hash, secret string) bool {
	version, memory, passes, lanes := 0, uint32(argonMemory), uint32(argonPasses), uint8(argonLanes)
	salt, key := make([]byte, argonSalt), []byte(nil)
	parts := strings.Split(hash, "$")
	if len(parts) == 6 && parts[1] == "argon2id" {
		_, errVersion := fmt.Sscanf(parts[2], "v=%d", &version)
		_, errCost := fmt.Sscanf(parts[3], "m=%d,t=%d,p=%d", &memory, &passes, &lanes)
		readSalt, errSalt := base64.RawStdEncoding.DecodeString(parts[4])
		readKey, errKey := base64.RawStdEncoding.DecodeString(parts[5])
		costs := errCost == nil && memory > 0 && passes > 0 && lanes > 0
		if errVersion == nil && costs && errSalt == nil && errKey == nil && version == argon2.Version {
			salt, key = readSalt, readKey
		} else {
			memory, passes, lanes = argonMemory, argonPasses, argonLanes
		}
	}
	given := argon2.IDKey([]byte(secret), salt, passes, memory, lanes, argonKey)
	return len(key) == argonKey && subtle.ConstantTimeCompare(key, given) == 1
}
