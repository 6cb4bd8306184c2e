package api

import (
	"fmt"
	"mime"
	"strings"
	"unicode"

	"bathyform/internal/store"
)

// attachment names a file that is handed out: by the job, what it is and the
// version of the design that it was made from, "deck-cleat-half-a-v3.stl". A
// proposal that was not changed yet is v0.
func attachment(j store.Job, what, form string) string {
	name := fmt.Sprintf("%s-%s-v%d.%s", fileName(j.Order.Name), fileName(what), j.DesignVersion, form)
	return mime.FormatMediaType("attachment", map[string]string{"filename": name})
}

// fileName keeps the letters and figures of a name, of any script.
func fileName(name string) string {
	words := strings.FieldsFunc(strings.ToLower(name), func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r) && !unicode.IsMark(r)
	})
	short := []rune(strings.Join(words, "-"))
	return strings.Trim(string(short[:min(len(short), 80)]), "-")
}
