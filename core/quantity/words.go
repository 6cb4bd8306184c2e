package quantity

import "fmt"

// Gravity is the standard acceleration of free fall, m/s².
const Gravity = 9.80665

// Plural counts in words: "1 place", "3 places".
func Plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// Sentence begins a text with a capital letter, as errors and data-sheet names do not.
func Sentence(s string) string {
	if s == "" || s[0] < 'a' || s[0] > 'z' {
		return s
	}
	return string(s[0]-32) + s[1:]
}
