package mesh

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestOneFaceOfABox(t *testing.T) {
	b := Box("lid", Vec{}, Vec{X: 10, Y: 20, Z: 30})
	m := Mesh{Bodies: []Body{Box("far", Vec{Z: -50}, Vec{X: 10, Y: 20, Z: 5}), b}}
	body, triangle, ok := m.Hit(Vec{X: 5, Y: 5, Z: 100}, Vec{Z: -1})
	assert.True(t, ok)
	assert.Equal(t, 1, body, "the nearer one")
	face := b.Face(triangle)
	rest, top := b.Split(face)
	assert.InDelta(t, 200, top.Surface(), 1e-9, "the top and no side of it")
	assert.InDelta(t, b.Surface(), rest.Surface()+top.Surface(), 1e-9)
	assert.Len(t, top.Vertices, 4)
	_, _, ok = m.Hit(Vec{X: 50, Z: 100}, Vec{Z: -1})
	assert.False(t, ok)
	assert.NotContains(t, b.Face(-1), true)
}

func TestABodyIsTurnedAboutItsMiddle(t *testing.T) {
	b := Box("lid", Vec{}, Vec{X: 10, Y: 20, Z: 30}).Turned(Vec{X: 90}, Vec{X: 100})
	low, high := b.bounds()
	assert.Equal(t, Vec{X: 100, Y: -5, Z: 5}, low)
	assert.Equal(t, Vec{X: 110, Y: 25, Z: 25}, high)
	assert.InDelta(t, 6000, b.Volume(), 1e-9)
	assert.True(t, b.Closed())
}
