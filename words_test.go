package lampfern_test

import (
	"bufio"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	comment = regexp.MustCompile(`(?m)(^|\s)//.*$|(?s:/\*.*?\*/)`)
	action  = regexp.MustCompile(`(?s)\{\{.*?\}\}|<[^>]*>`)
	doubled = regexp.MustCompile(`(?i)\b(a|an|the|is|are|was|be|to|of|in|on|and|or|it|you|has|have|not|for|with|by|at|from|as)\s+(\w+)\b`)
	notA    = regexp.MustCompile(`(?i)\bis no (?:whole|number|colour|calendar|mail|shelf|package|drawing|text|corner|shaft|stripe|pour|length|name)\b`)
	agreed  = regexp.MustCompile(`(?i)\b(?:parts|edges|fronts|cards|colours) (?:recedes|disappears|touches|sinks|leans)\b`)
)

// whatIsRead are the texts that a maker may read: literals of the program, templates, modules, the guide and the
// README, each with where it is.
func whatIsRead(t *testing.T) map[string][]string {
	t.Helper()
	out := map[string][]string{}
	require.NoError(t, filepath.WalkDir(".", func(name string, d fs.DirEntry, err error) error {
		switch {
		case err != nil:
			return err
		case d.IsDir() && (strings.HasPrefix(d.Name(), ".") && name != "." || d.Name() == "testdata" || d.Name() == "quantity" || d.Name() == "lint"):
			return fs.SkipDir
		case strings.HasSuffix(name, "_test.go"):
			return nil
		}
		switch filepath.Ext(name) {
		case ".go":
			file, err := parser.ParseFile(token.NewFileSet(), name, nil, 0)
			if err != nil {
				return err
			}
			ast.Inspect(file, func(n ast.Node) bool {
				if lit, is := n.(*ast.BasicLit); is && lit.Kind == token.STRING {
					text, err := strconv.Unquote(lit.Value)
					require.NoError(t, err)
					out[name] = append(out[name], text)
				}
				return true
			})
		case ".html", ".md", ".js", ".script":
			data, err := os.ReadFile(name)
			if err != nil {
				return err
			}
			text := comment.ReplaceAllString(string(data), "")
			out[name] = append(out[name], strings.Join(strings.Fields(action.ReplaceAllString(text, " ")), " "))
		}
		return nil
	}))
	return out
}

// TestPlainWords holds that no text uses a phrase that was given up, doubles a word, says that something "is no"
// something, or lets a verb disagree with its plural.
func TestPlainWords(t *testing.T) {
	f, err := os.Open("testdata/phrases.txt")
	require.NoError(t, err)
	defer f.Close()
	var given []*regexp.Regexp
	for lines := bufio.NewScanner(f); lines.Scan(); {
		if p := strings.TrimSpace(lines.Text()); p != "" && p[0] != '#' {
			given = append(given, regexp.MustCompile(`(?i)(^|[^\pL])`+regexp.QuoteMeta(p)+`($|[^\pL])`))
		}
	}
	require.Greater(t, len(given), 100)
	texts := whatIsRead(t)
	require.Greater(t, len(texts), 300)
	for name, all := range texts {
		if name == "CONTRIBUTING.md" || strings.HasPrefix(name, "docs"+string(filepath.Separator)) && strings.Contains(name, "third-party") {
			continue
		}
		for _, text := range all {
			if !strings.Contains(text, " ") {
				continue // a key
			}
			for _, p := range given {
				assert.Empty(t, p.FindString(text), "%s: given up: %.200s", name, p)
			}
			if filepath.Ext(name) != ".js" {
				for _, m := range doubled.FindAllStringSubmatch(text, -1) {
					assert.NotEqual(t, m[1], m[2], "%s: twice: %s", name, m[0])
				}
				assert.Empty(t, notA.FindString(text), name)
				assert.Empty(t, agreed.FindString(text), name)
			}
		}
	}
}
