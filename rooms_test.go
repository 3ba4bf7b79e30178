// Package lampfern_test checks how the rooms of the program depend on one
// another and what they may hold.
package lampfern_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// mayImport says which rooms a room may use; a room may always use its own.
var mayImport = map[string][]string{
	"core":     {},
	"store":    {"core"},
	"exchange": {"core"},
	"draw":     {"core"},
	"studio":   {"core", "store", "exchange", "draw"},
	"web":      {"studio", "core", "exchange", "draw"},
	"standin":  {},
	"demo":     {"studio", "core", "exchange"},
	"cmd":      {"web", "studio", "store", "exchange", "demo", "core", "standin"},
	"e2e":      {"web", "studio", "store", "demo", "core", "standin"},
}

// testsWire are rooms that tests may use beside, to set up something whole.
var testsWire = map[string]string{"web": "store demo standin", "demo": "store", "studio": "standin", "exchange": "standin"}

// coreLibraries are the modules the core may use beside the standard library.
var coreLibraries = []string{"github.com/lucasb-eyer/go-colorful", "gonum.org/v1/gonum"}

// onlyIn keeps a library inside one room.
var onlyIn = map[string]string{"gorm.io/": "store", "github.com/glebarez/": "store", "github.com/gin-gonic/": "web", "codeberg.org/go-pdf/": "draw", "html/template": "web", "net/http": "web cmd e2e"}

func TestRoomsOnlyUseTheLayersBelow(t *testing.T) {
	seen := map[string]int{}
	require.NoError(t, filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || !strings.Contains(path, "/") {
			return err
		}
		room, _, _ := strings.Cut(filepath.ToSlash(path), "/")
		allowed, known := mayImport[room]
		if !assert.True(t, known, "%s is in no known room", path) {
			return nil
		}
		seen[room]++
		test := strings.HasSuffix(path, "_test.go")
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		require.NoError(t, err)
		for _, im := range f.Imports {
			name, err := strconv.Unquote(im.Path.Value)
			require.NoError(t, err)
			if rest, ours := strings.CutPrefix(name, "lampfern/"); ours {
				to, _, _ := strings.Cut(rest, "/")
				ok := to == room || test && strings.Contains(testsWire[room], to)
				for _, a := range allowed {
					ok = ok || a == to
				}
				assert.True(t, ok, "%s uses %s: arrows point down the layers only", path, name)
			}
			if room == "core" && !test && strings.Contains(strings.Split(name, "/")[0], ".") {
				ok := false
				for _, l := range coreLibraries {
					ok = ok || strings.HasPrefix(name, l)
				}
				assert.True(t, ok, "%s uses %s, which the core may not", path, name)
			}
			for library, rooms := range onlyIn {
				if strings.HasPrefix(name, library) && !test {
					assert.Contains(t, strings.Fields(rooms), room, "%s uses %s", path, name)
				}
			}
		}
		return nil
	}))
	for room := range mayImport {
		assert.Positive(t, seen[room], "the room %s is empty", room)
	}
}
