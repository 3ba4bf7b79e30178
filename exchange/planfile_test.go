package exchange

import (
	"archive/zip"
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/core/material"
)

func TestPlanFileRoundTrip(t *testing.T) {
	p := PlanFile{Name: "Curtain", Craft: "quilt", Kinds: []string{"fabric"}, PutAway: true,
		Sections: map[string]PlanSection{"tray": {Version: 1, Doc: []byte(`{"entries":[]}`)}},
		Materials: []PlanMaterial{{12, material.Material{Name: "Plum", Kind: "fabric", Finish: "matte", Source: "typed", Uncertainty: 3,
			Colour: colour.Lab{L: 20, A: 22, B: -13}}}},
		Photos: []ShelfPhoto{{Hash: "ab", Name: "x.jpg", File: "photos/ab.jpeg"}},
		Meshes: []ShelfPhoto{{Hash: "cd", Name: "pot", File: "meshes/cd.stl"}}}
	var b bytes.Buffer
	require.NoError(t, WritePlanFile(&b, p, func(f ShelfPhoto, isMesh bool) ([]byte, error) {
		assert.Equal(t, f.Name == "pot", isMesh)
		return []byte(f.Name), nil
	}))
	assert.True(t, IsPlanFile(b.Bytes()))
	got, err := ReadPlanFile(t.Context(), b.Bytes())
	require.NoError(t, err)
	assert.JSONEq(t, `{"entries":[]}`, string(got.Sections["tray"].Doc))
	for _, f := range append(got.Photos, got.Meshes...) {
		data, held := got.Content(t.Context(), f, 10)
		assert.True(t, held)
		assert.Equal(t, f.Name, string(data))
		_, held = got.Content(t.Context(), f, 1)
		assert.False(t, held, "larger than it may be")
	}
	_, held := got.Content(t.Context(), ShelfPhoto{File: "photos/none"}, 10)
	assert.False(t, held)
	got.files, got.Sections, p.Sections = nil, nil, nil
	assert.Equal(t, p, got)
}

func TestBadPlanFiles(t *testing.T) {
	head := `{"format":"lampfern-plan","version":2,"plan":{"name":"x"}`
	for want, files := range map[string]map[string]string{
		"has no plan.json":               {"other.json": "{}"},
		"is incomplete: save it again":   {"plan.json": "{"},
		"does not begin with the format": {"plan.json": `{"format":"x"}`},
		"is version 9":                   {"plan.json": strings.Replace(head, ":2,", ":9,", 1) + "}"},
		"has no name":                    {"plan.json": `{"format":"lampfern-plan","version":2}`},
		"is in the file twice": {"plan.json": head +
			`,"materials":[{"number":1,"name":"a","kind":"fabric"},{"number":1,"name":"b","kind":"fabric"}]}`},
		"would leave its folder": {"plan.json": head + "}", "../x": ""},
	} {
		var b bytes.Buffer
		z := zip.NewWriter(&b)
		for n, text := range files {
			w, err := z.Create(n)
			require.NoError(t, err)
			_, err = w.Write([]byte(text))
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		_, err := ReadPlanFile(t.Context(), b.Bytes())
		assert.ErrorContains(t, err, want)
	}
	_, err := ReadPlanFile(t.Context(), []byte("PK not a zip"))
	assert.ErrorContains(t, err, "the zip is incomplete")
}

func FuzzReadPlanFile(f *testing.F) {
	f.Add([]byte(`{"format":"lampfern-plan","version":1,"plan":{"name":"x"}}`))
	f.Add([]byte("PK"))
	f.Fuzz(func(t *testing.T, data []byte) {
		p, err := ReadPlanFile(t.Context(), data)
		if err == nil {
			assert.NotEmpty(t, p.Name)
		}
	})
}
