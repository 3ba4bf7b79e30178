package guide

import (
	"bytes"
	"fmt"
	"html/template"
	"net/http"
	"path"
	"regexp"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"

	"lampfern/core/words"
)

// book is what is read: chapters, and the words of the field last.
type book struct{ Chapters []chapter }

// chapter is a heading of the guide and what stands under it.
type chapter struct {
	Key, Name string
	HTML      template.HTML
	Terms     []words.Term // of the glossary, in place of HTML
	blocks    []string     // its paragraphs and points without marks, for searching
}

// read makes the book of the text that ships with the program.
func read() (*book, error) {
	text, err := files.ReadFile("guide.md")
	if err != nil {
		return nil, err
	}
	b := &book{}
	for _, part := range strings.Split("\n"+string(text), "\n## ")[1:] {
		c, err := chapterOf(part)
		if err != nil {
			return nil, err
		}
		b.Chapters = append(b.Chapters, c)
	}
	glossary := chapter{Key: "words", Name: "Words"}
	for _, t := range words.Terms {
		glossary.Terms = append(glossary.Terms, t)
		glossary.blocks = append(glossary.blocks, t.Name+". "+t.Means)
	}
	b.Chapters = append(b.Chapters, glossary)
	return b, nil
}

var (
	notKey = regexp.MustCompile(`[^a-z0-9]+`)
	marks  = regexp.MustCompile("[*`_]|<[^>]*>|\\]\\([^)]*\\)|\\[")
	points = regexp.MustCompile(`\n\s*\n|\n\s*- `)
)

func chapterOf(text string) (chapter, error) {
	name, rest, _ := strings.Cut(text, "\n")
	c := chapter{Name: strings.TrimSpace(name)}
	c.Key = strings.Trim(notKey.ReplaceAllString(strings.ToLower(c.Name), "-"), "-")
	var out bytes.Buffer
	md := goldmark.New(goldmark.WithExtensions(extension.Table))
	if err := md.Convert([]byte(rest), &out); err != nil {
		return c, fmt.Errorf("reading the chapter %s: %w", c.Name, err)
	}
	c.HTML = template.HTML(out.String())
	for _, block := range points.Split("\n"+rest, -1) {
		if plain := strings.Join(strings.Fields(marks.ReplaceAllString(block, "")), " "); plain != "" {
			c.blocks = append(c.blocks, plain)
		}
	}
	return c, nil
}

// place is a paragraph that holds what was asked for.
type place struct{ Key, Chapter, Words string }

// mostPlaces is how many a search shows.
const mostPlaces = 20

// find are the paragraphs that hold every word of a question.
func (b *book) find(question string) (out []place) {
	asked := strings.Fields(strings.ToLower(question))
	if len(asked) == 0 {
		return nil
	}
	for _, c := range b.Chapters {
		for _, block := range c.blocks {
			low, all := strings.ToLower(c.Name+" "+block), true
			for _, w := range asked {
				all = all && strings.Contains(low, w)
			}
			if all && len(out) < mostPlaces {
				out = append(out, place{c.Key, c.Name, block})
			}
		}
	}
	return out
}

// picture sends a picture of the guide.
func (s pages) picture(c *gin.Context) {
	data, err := files.ReadFile("pictures/" + path.Base(c.Param("name")))
	if err != nil {
		s.Fail(c, http.StatusNotFound, "There is no such picture in the guide.")
		return
	}
	c.Header("Cache-Control", "public, max-age=86400")
	c.Data(http.StatusOK, "image/jpeg", data)
}

type guideBody struct {
	*book
	Asked string
	Found []place
}

func (s pages) guide(c *gin.Context) {
	p := s.Page(c, "guide", "Guide")
	p.Path = "/guide"
	text, err := s.book()
	if s.Trouble(c, err, "") {
		return
	}
	b := guideBody{book: text, Asked: strings.TrimSpace(c.Query("q"))}
	b.Found = text.find(b.Asked)
	p.Body = b
	s.Render(c, http.StatusOK, p)
}
