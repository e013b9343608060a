package backup

import (
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base32"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"grapnel/app/whole"
)

// Key is what a shop seals its backups with: whoever changes one afterwards is found out. It is
// kept beside the data, never in a backup, and is printed for the safe (grapnel backup-key).
type Key struct{ secret [keyBytes]byte }

// keyBytes is how long a key is; checkBytes how much of its digest is printed behind it, so
// that a slip of the pen is found.
const (
	keyBytes   = 20
	checkBytes = 5
	// groupOf is how many letters of a printed key stand together.
	groupOf = 4
)

var keyLetters = base32.StdEncoding.WithPadding(base32.NoPadding)

// ErrNoKey is returned for what is no key: a letter is wrong or missing.
var ErrNoKey = errors.New("this is no backup key: a letter is wrong or missing")

// String is the key as it is printed.
func (k Key) String() string {
	text := keyLetters.EncodeToString(append(k.secret[:], k.check()...))
	var out strings.Builder
	for i := 0; i < len(text); i += groupOf {
		if i > 0 {
			out.WriteByte('-')
		}
		out.WriteString(text[i:min(i+groupOf, len(text))])
	}
	return out.String()
}

func (k Key) check() []byte {
	sum := sha256.Sum256(append([]byte("grapnel backup key "), k.secret[:]...))
	return sum[:checkBytes]
}

// ID names the key without giving it away.
func (k Key) ID() string {
	mac := hmac.New(sha256.New, k.secret[:])
	mac.Write([]byte("name"))
	return hex.EncodeToString(mac.Sum(nil))[:shownID]
}

// ParseKey reads a key as it is printed; case, blanks and grouping make no difference.
func ParseKey(text string) (Key, error) {
	plain := strings.Map(func(c rune) rune {
		switch c {
		case ' ', '-', '\n', '\r', '\t':
			return -1
		case '0':
			return 'O' // a key has no nought, one or eight
		case '1':
			return 'I'
		case '8':
			return 'B'
		}
		return c
	}, strings.ToUpper(text))
	raw, err := keyLetters.DecodeString(plain)
	if err != nil || len(raw) != keyBytes+checkBytes {
		return Key{}, ErrNoKey
	}
	var k Key
	copy(k.secret[:], raw)
	if !hmac.Equal(k.check(), raw[keyBytes:]) {
		return Key{}, ErrNoKey
	}
	return k, nil
}

// ReadKey takes the key that is kept in a file; fs.ErrNotExist where there is none.
func ReadKey(path string) (Key, error) {
	text, err := os.ReadFile(path)
	if err != nil {
		return Key{}, err
	}
	k, err := ParseKey(string(text))
	if err != nil {
		return Key{}, fmt.Errorf("%s: %w", path, err)
	}
	return k, nil
}

// OpenKey takes the key that is kept in a file, or makes one there.
func OpenKey(path string) (Key, error) {
	k, err := ReadKey(path)
	if !errors.Is(err, fs.ErrNotExist) {
		return k, err
	}
	// crypto/rand.Read never fails; it ends the program instead.
	_, _ = rand.Read(k.secret[:])
	if err := k.Keep(path); !errors.Is(err, fs.ErrExist) {
		return k, err
	}
	return ReadKey(path)
}

// Keep puts a key into a file that is not there yet. Where another program made one in the
// meantime, that one stays, and fs.ErrExist is returned.
func (k Key) Keep(path string) error {
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		return err
	}
	return whole.New(path, []byte(k.String()+"\n"), 0o600)
}

// The seal stands in the comment at the end of the zip, the last thing in the file: who made it
// and, over everything before that, a keyed digest (HMAC with SHA-256, RFC 2104).
const (
	sealWord  = "grapnel seal 1 "
	macLetter = 2 * sha256.Size
	sealBytes = len(sealWord) + shownID + 1 + macLetter
)

// blankSeal is the seal before what it is made of has been written.
func (k Key) blankSeal() string { return sealWord + k.ID() + " " + strings.Repeat("0", macLetter) }

// seal puts the digest into a file that ends with a blank seal.
func (k Key) seal(file *os.File) error {
	info, err := file.Stat()
	if err != nil {
		return err
	}
	at := info.Size() - macLetter
	mac, err := k.digest(file, at)
	if err != nil {
		return err
	}
	_, err = file.WriteAt([]byte(hex.EncodeToString(mac)), at)
	return err
}

// digest is the keyed digest of how a file begins.
func (k Key) digest(file io.ReaderAt, size int64) ([]byte, error) {
	mac := hmac.New(sha256.New, k.secret[:])
	if _, err := io.Copy(mac, io.NewSectionReader(file, 0, size)); err != nil {
		return nil, err
	}
	return mac.Sum(nil), nil
}

// What is wrong with the seal of a backup.
var (
	ErrUnsealed = errors.New("it is not sealed")
	ErrTampered = errors.New("it was changed after it was sealed, or the key is another's")
)

// OtherKey is returned for a backup that was sealed with a key that is not at hand.
type OtherKey struct{ ID string }

// Error names the key.
func (e OtherKey) Error() string { return "it was sealed with the backup key " + e.ID }

// CheckSeal finds that a file is as it was when it was sealed with one of the keys, and which
// that was. ErrUnsealed, ErrTampered or OtherKey say what is wrong.
func CheckSeal(path string, keys []Key) (Key, error) {
	file, err := os.Open(path)
	if err != nil {
		return Key{}, err
	}
	defer file.Close()
	info, err := file.Stat()
	if err != nil {
		return Key{}, err
	}
	end := make([]byte, min(int64(sealBytes), info.Size()))
	if _, err := file.ReadAt(end, info.Size()-int64(len(end))); err != nil {
		return Key{}, err
	}
	id, given, ok := strings.Cut(strings.TrimPrefix(string(end), sealWord), " ")
	if !ok || !strings.HasPrefix(string(end), sealWord) {
		return Key{}, ErrUnsealed
	}
	for _, k := range keys {
		if k.ID() != id {
			continue
		}
		mac, err := k.digest(file, info.Size()-macLetter)
		if err != nil {
			return Key{}, err
		}
		if !hmac.Equal([]byte(hex.EncodeToString(mac)), []byte(given)) {
			return Key{}, ErrTampered
		}
		return k, nil
	}
	return Key{}, OtherKey{id}
}
