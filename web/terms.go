package web

import (
	"html/template"
	"regexp"
	"slices"
	"strings"

	"lampfern/core/words"
)

// termWord finds terms in a text, the longer first; with an s they are the same word.
var termWord = func() *regexp.Regexp {
	var all []string
	for _, t := range words.Terms {
		all = append(all, regexp.QuoteMeta(strings.ToLower(t.Name)))
	}
	slices.SortFunc(all, func(a, b string) int { return len(b) - len(a) })
	return regexp.MustCompile(`(?i)(^|[^\pL])(` + strings.Join(all, "|") + `)(s?)($|[^\pL])`)
}()

// Terms marks the first use of each word of the field in a text, which says what it means where it is pointed at.
func Terms(text string) template.HTML {
	var out strings.Builder
	seen := map[string]bool{}
	for {
		m := termWord.FindStringSubmatchIndex(text)
		if m == nil {
			out.WriteString(template.HTMLEscapeString(text))
			return template.HTML(out.String())
		}
		out.WriteString(template.HTMLEscapeString(text[:m[4]]))
		word, rest := text[m[4]:m[7]], text[m[7]:]
		name := strings.ToLower(text[m[4]:m[5]])
		at := slices.IndexFunc(words.Terms, func(t words.Term) bool { return strings.ToLower(t.Name) == name })
		if seen[name] {
			out.WriteString(template.HTMLEscapeString(word))
		} else {
			out.WriteString(`<dfn title="` + template.HTMLEscapeString(words.Terms[at].Means) + `">` + template.HTMLEscapeString(word) + "</dfn>")
		}
		seen[name], text = true, rest
	}
}
