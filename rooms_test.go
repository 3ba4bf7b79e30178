// Package lampfern_test checks how the rooms of the program depend on one
// another and what they may hold.
package lampfern_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// mayImport says which rooms a room may use; a room may always use its own, but
// for stages, which never use one another.
var mayImport = map[string]string{
	"core":          "",
	"store":         "core",
	"door":          "core store",
	"exchange":      "core",
	"draw":          "core",
	"standin":       "",
	"shelf":         "core store exchange",
	"plan":          "door shelf core store exchange",
	"web":           "door plan shelf core exchange draw",
	"workroom/*":    "web plan shelf core exchange draw",
	"stages/*":      "door plan shelf core store exchange",
	"stages/*/page": "door web plan shelf core exchange draw",
	"stages":        "stages/* stages/*/page workroom/* plan web",
	"demo":          "stages/* plan shelf core exchange",
	"lint":          "",
	"testroom":      "plan shelf core store exchange",
	"cmd":           "web door stages plan shelf store exchange demo core standin",
	"e2e":           "testroom web door stages stages/* plan shelf store demo core standin",
}

// testsWire are rooms that tests may use beside, to set up something whole.
const testsWire = "door testroom demo store standin stages stages/* exchange shelf plan core web"

// coreLibraries are the modules the core may use beside the standard library.
var coreLibraries = []string{"github.com/lucasb-eyer/go-colorful", "gonum.org/v1/gonum"}

// onlyIn keeps a library inside rooms; */page stands for every room of pages.
var onlyIn = map[string]string{"gorm.io/": "store", "github.com/glebarez/": "store", "github.com/gin-gonic/": "web workroom/* */page",
	"codeberg.org/go-pdf/": "draw",
	"html/template":        "web workroom/* */page", "net/http": "web workroom/* */page cmd e2e exchange standin"}

// roomOf is the room a folder belongs to, with a star for the name of a stage.
func roomOf(dir string) string {
	at := strings.Split(dir, "/")
	switch {
	case at[0] == "stages" && len(at) > 2 && at[2] == "page":
		return "stages/*/page"
	case at[0] == "stages" && len(at) > 1:
		return "stages/*"
	case at[0] == "workroom" && len(at) > 1:
		return "workroom/*"
	}
	return at[0]
}

// stageOf is the stage a folder belongs to, empty for none.
func stageOf(dir string) string {
	if at := strings.Split(dir, "/"); at[0] == "stages" && len(at) > 1 {
		return at[1]
	}
	return ""
}

func TestRoomsOnlyUseTheLayersBelow(t *testing.T) {
	seen := map[string]int{}
	require.NoError(t, filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || !strings.Contains(path, "/") {
			return err
		}
		dir := filepath.ToSlash(filepath.Dir(path))
		room := roomOf(dir)
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
				to := roomOf(rest)
				ok := slices.Contains(strings.Fields(allowed), to) || to == room && stageOf(rest) == stageOf(dir) ||
					room == "stages/*/page" && to == "stages/*" && stageOf(rest) == stageOf(dir) ||
					test && slices.Contains(strings.Fields(testsWire), to)
				assert.True(t, ok, "%s uses %s: arrows point down the layers only, and stages do not use one another", path, name)
			}
			if to, craft := strings.CutPrefix(name, "lampfern/core/craft"); craft && room == "core" {
				// Only the list of crafts uses them, and they never use one another.
				assert.True(t, dir == "core/craft" || strings.HasPrefix(dir+"/", "core/craft"+to+"/"), "%s uses %s", path, name)
			}
			if room == "core" && !test && strings.Contains(strings.Split(name, "/")[0], ".") {
				ok := slices.ContainsFunc(coreLibraries, func(l string) bool { return strings.HasPrefix(name, l) })
				assert.True(t, ok, "%s uses %s, which the core may not", path, name)
			}
			for library, rooms := range onlyIn {
				if strings.HasPrefix(name, library) && !test {
					ok := slices.Contains(strings.Fields(rooms), room) || strings.HasSuffix(room, "/page") && strings.Contains(rooms, "*/page")
					assert.True(t, ok, "%s uses %s", path, name)
				}
			}
		}
		return nil
	}))
	for room := range mayImport {
		assert.Positive(t, seen[room], "the room %s is empty", room)
	}
}
