// Package words makes English out of names: lists, and guesses at what a misspelt name
// meant.
package words

import (
	"fmt"
	"strings"
)

// Or lists alternatives: "a", "a or b", "a, b or c".
func Or[S ~string](list []S) string { return joined(list, " or ") }

// And lists things that are all there: "a", "a and b", "a, b and c".
func And[S ~string](list []S) string { return joined(list, " and ") }

// Article is the indefinite article of a word: an before a vowel that is heard.
func Article(word string) string {
	lower := strings.ToLower(strings.TrimLeft(word, "\"'“‘("))
	for _, as := range []string{"hour", "honest", "heir", "8", "11", "18"} { // heard otherwise than they are written
		if strings.HasPrefix(lower, as) {
			return "an"
		}
	}
	for _, as := range []string{"uni", "use", "usu", "eu", "one", "once", "u "} {
		if strings.HasPrefix(lower, as) && !strings.HasPrefix(lower, "unin") && !strings.HasPrefix(lower, "unim") {
			return "a"
		}
	}
	if lower != "" && strings.ContainsRune("aeiou", rune(lower[0])) {
		return "an"
	}
	return "a"
}

func joined[S ~string](list []S, last string) string {
	var b strings.Builder
	for i, word := range list {
		switch {
		case i > 0 && i == len(list)-1:
			b.WriteString(last)
		case i > 0:
			b.WriteString(", ")
		}
		b.WriteString(string(word))
	}
	return b.String()
}

// UnknownColumn words the error for a column that is not in the table and
// suggests the nearest name.
func UnknownColumn(name string, names []string) (message, advice string) {
	message = fmt.Sprintf("no column %s", name)
	if near := Nearest(name, names); near != "" {
		return message, fmt.Sprintf("did you mean %s?", near)
	}
	return message, "choose one of the table's columns"
}

// Nearest gives the candidate that begins with the word, or else the one with the
// smallest edit distance to it
// (insert, delete, replace, swap of neighbours; case does not count), or ""
// when none is near.
func Nearest(word string, candidates []string) string {
	if len(word) > longestGuessed {
		return ""
	}
	if begun := beginningWith(word, candidates); begun != "" {
		return begun
	}
	best, bestDistance := "", max(2, len([]rune(word))/2)+1
	for _, candidate := range candidates {
		if len(candidate) > longestGuessed {
			continue
		}
		distance := editDistance([]rune(strings.ToLower(word)), []rune(strings.ToLower(candidate)))
		if distance < bestDistance {
			best, bestDistance = candidate, distance
		}
	}
	return best
}

// longestGuessed is the longest word in bytes that is compared letter by letter.
const longestGuessed = 300

// beginningWith is the shortest candidate that begins with a word of two letters or
// more: what somebody has begun to type.
func beginningWith(word string, candidates []string) string {
	best := ""
	for _, candidate := range candidates {
		begins := len([]rune(word)) >= 2 && strings.HasPrefix(strings.ToLower(candidate), strings.ToLower(word))
		if begins && (best == "" || len(candidate) < len(best)) {
			best = candidate
		}
	}
	return best
}

// editDistance is the optimal string alignment distance (Damerau 1964).
func editDistance(a, b []rune) int {
	rows := make([][]int, len(a)+1)
	for i := range rows {
		rows[i] = make([]int, len(b)+1)
		rows[i][0] = i
	}
	for j := range rows[0] {
		rows[0][j] = j
	}
	for i := 1; i <= len(a); i++ {
		for j := 1; j <= len(b); j++ {
			cost := 1
			if a[i-1] == b[j-1] {
				cost = 0
			}
			rows[i][j] = min(rows[i-1][j]+1, rows[i][j-1]+1, rows[i-1][j-1]+cost)
			if i > 1 && j > 1 && a[i-1] == b[j-2] && a[i-2] == b[j-1] {
				rows[i][j] = min(rows[i][j], rows[i-2][j-2]+1)
			}
		}
	}
	return rows[len(a)][len(b)]
}
