package people

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
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

// HashSecret hashes a password in the usual encoded form.
func HashSecret(secret string) (string, error) {
	salt := make([]byte, argonSalt)
	if _, err := rand.Read(salt); err != nil {
		return "", fmt.Errorf("salt: %w", err)
	}
	key := argon2.IDKey([]byte(secret), salt, argonPasses, argonMemory, argonLanes, argonKey)
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonPasses, argonLanes,
		base64.RawStdEncoding.EncodeToString(salt), base64.RawStdEncoding.EncodeToString(key)), nil
}

// SecretMatches compares in constant time. A hash that cannot be read, such as
// that of nobody, costs the same time and never matches.
func SecretMatches(hash, secret string) bool {
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
