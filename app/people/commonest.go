package people

import (
	"crypto/sha256"
	_ "embed"
	"slices"
	"sort"
	"strings"
	"unicode"

	"grapnel/app/fold"
)

// commonest are the commonest passwords as digests, sorted: it is a list of words that
// nobody wants to read. See package commonest for how it is made.
//
//go:embed commonest.bin
var commonest string

// digestBytes is how much of a digest is kept: of 2^40 one in thirty million words that are
// not on the list is taken for one that is.
const digestBytes = 5

// Digest is how a password stands in the list.
func Digest(secret string) string {
	sum := sha256.Sum256([]byte(strings.ToLower(secret)))
	return string(sum[:digestBytes])
}

func listed(secret string) bool {
	want, n := Digest(secret), len(commonest)/digestBytes
	at := func(i int) string { return commonest[i*digestBytes : (i+1)*digestBytes] }
	i := sort.Search(n, func(i int) bool { return at(i) >= want })
	return i < n && at(i) == want
}

// leastRest is how many letters a password needs besides the sign-in name in it.
const leastRest = 6

// Guessable reports a password that is among the first that anybody tries: one of the
// commonest, also with figures behind it or said twice, a run of neighbours, or little more
// than the name it belongs to.
func Guessable(secret, signIn string) bool {
	plain := strings.ToLower(strings.TrimSpace(secret))
	if common(plain) {
		return true
	}
	name := fold.Name(signIn)
	if len(name) < leastSignIn || !strings.Contains(plain, name) {
		return false
	}
	rest := strings.ReplaceAll(plain, name, "")
	return len(rest) < leastRest || common(rest)
}

func common(plain string) bool {
	bare := strings.TrimRightFunc(plain, func(c rune) bool { return !unicode.IsLetter(c) })
	unit := unitOf(plain)
	return listed(plain) || listed(backwards(plain)) || bare != "" && listed(bare) || run(plain) || unit != plain && (len(unit) < leastRest || listed(unit))
}

func backwards(text string) string {
	letters := []rune(text)
	slices.Reverse(letters)
	return string(letters)
}

// unitOf is the shortest text that a text repeats: itself where it repeats none.
func unitOf(text string) string {
	for n := 1; n <= len(text)/2; n++ {
		if len(text)%n == 0 && strings.Repeat(text[:n], len(text)/n) == text {
			return text[:n]
		}
	}
	return text
}

// run reports a text in which each letter is the neighbour of the one before.
func run(text string) bool {
	letters := []rune(text)
	if len(letters) < 2 {
		return false
	}
	step := letters[1] - letters[0]
	for i := 1; i < len(letters); i++ {
		if d := letters[i] - letters[i-1]; d != step || d < -1 || d > 1 {
			return false
		}
	}
	return true
}
