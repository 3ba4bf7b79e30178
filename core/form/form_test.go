package form

import (
	"net/url"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/words"
)

type order struct {
	Key     int      `form:"key"`
	Turn    int      `form:"turn,optional"`
	Paint   uint     `form:"paint,optional"`
	Wide    float64  `form:"wide"`
	Nudge   float64  `form:"nudge,optional"`
	Name    string   `form:"name"`
	On      bool     `form:"on"`
	Parts   []string `form:"part"`
	Corners [][2]float64
}

func (o *order) Read(f *Form) error {
	o.Corners = f.Corners("corners")
	return nil
}

func TestFill(t *testing.T) {
	var o order
	v := url.Values{"key": {" 3 "}, "wide": {"2,5"}, "name": {"Plum"}, "on": {"1"}, "part": {"a", "b"}, "corners": {"0,0 10.5,2"},
		"turn": {""}}
	require.NoError(t, New(v).Fill(&o))
	assert.Equal(t, order{Key: 3, Wide: 2.5, Name: "Plum", On: true, Parts: []string{"a", "b"}, Corners: [][2]float64{{0, 0}, {10.5, 2}}}, o)

	for field, c := range map[string]struct{ typed, want string }{
		"key": {"x", "Key must be a whole number."}, "turn": {"1.5", "Turn must be a whole number."}, "wide": {"", "Write the wide in figures."},
		"nudge": {"NaN", "is not a number: write the nudge in figures."}, "corners": {"1;2", "is not a corner: write each as two numbers in mm"},
		"paint": {"blue", "Paint must be a whole number."},
	} {
		bad := url.Values{"key": {"3"}, "wide": {"2"}}
		bad.Set(field, c.typed)
		err := New(bad).Fill(&order{})
		assert.ErrorContains(t, err, c.want, field)
		var refused words.Refusal
		assert.ErrorAs(t, err, &refused, field)
	}
	assert.Panics(t, func() {
		_ = New(url.Values{"m": {"x"}}).Fill(&struct {
			M map[string]int `form:"m"`
		}{})
	})
}

func TestListsOfAForm(t *testing.T) {
	f := New(url.Values{"set-columns": {"7"}, "set-row": {"1,5"}, "cells": {"0.1 2.3"}, "fills": {"peak.2 spark.1"}, "away": {"0"},
		"none": {""}})
	assert.Equal(t, map[string]float64{"columns": 7, "row": 1.5}, f.Numbers("set-"))
	assert.Equal(t, [][2]int{{0, 1}, {2, 3}}, f.Cells("cells"))
	assert.Equal(t, map[string]int{"peak": 2, "spark": 1}, f.Keys("fills"))
	assert.Nil(t, f.Keys("none"))
	assert.False(t, f.Yes("away"))
	assert.Equal(t, 4.0, f.Number("none", 4))
	require.NoError(t, f.Err())
	for _, f := range []*Form{New(url.Values{"cells": {"a.b"}}), New(url.Values{"fills": {"peak"}}), New(url.Values{"set-x": {""}})} {
		f.Cells("cells")
		f.Keys("fills")
		f.Numbers("set-")
		assert.Error(t, f.Err())
	}
}

type read struct {
	Day  string `form:"day,optional"`
	Sure bool   `form:"sure"`
}

// What is embedded is filled in like the rest.
func TestEmbeddedFieldsAreFilledIn(t *testing.T) {
	var e struct {
		Result string `form:"result"`
		read
	}
	require.NoError(t, New(url.Values{"result": {"#4b2346"}, "day": {"2026-03-14"}, "sure": {"1"}}).Fill(&e))
	assert.Equal(t, "#4b2346", e.Result)
	assert.True(t, e.Sure)
	assert.Equal(t, "2026-03-14", e.Day)
}
