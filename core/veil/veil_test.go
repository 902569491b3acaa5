package veil_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/veil"
)

func TestWhatHidesNothingOrTellsTooMuchIsRefused(t *testing.T) {
	good := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(0, 0, 40, 30), Style: veil.Soft, Cells: 3}
	assert.NoError(t, good.Check())
	for name, change := range map[string]func(*veil.Veil){
		"shape":      func(v *veil.Veil) { v.Shape = "star" },
		"style":      func(v *veil.Veil) { v.Style = "fog" },
		"no cells":   func(v *veil.Veil) { v.Cells = 0 },
		"many cells": func(v *veil.Veil) { v.Cells = veil.MostCells + 1 },
		"no region":  func(v *veil.Veil) { v.Bounds = image.Rectangle{} },
		"two points": func(v *veil.Veil) { v.Shape, v.Points = veil.Polygon, make([]image.Point, 2) },
	} {
		bad := good
		change(&bad)
		assert.Error(t, bad.Check(), name)
	}
}

// However strong the light varies, the number of different values that come
// back of a region in blocks is at most that of its cells: information is
// limited, not sharpness.
func TestNoMoreValuesThanCells(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		w, h := rapid.IntRange(1, 90).Draw(t, "w"), rapid.IntRange(1, 90).Draw(t, "h")
		cells := rapid.IntRange(1, veil.MostCells).Draw(t, "cells")
		seed := rapid.IntRange(1, 1000).Draw(t, "seed")
		v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(3, 2, 3+w, 2+h), Style: veil.Blocks, Cells: cells}
		light := func(dst []float32, y, x0, x1 int) {
			for x := x0; x < x1; x++ {
				dst[x-x0] = float32((x*seed+y*7919)%251) / 250
			}
		}
		l := veil.Make(v, image.Rect(0, 0, 100, 100), 1, light)
		require.NotNil(t, l)
		seen := map[float32]bool{}
		line := make([]float32, 100)
		for y := 2; y < 2+h; y++ {
			light(line, y, 0, 100)
			l.Draw(line, y, 0)
			for x := 3; x < 3+w; x++ {
				seen[line[x]] = true
			}
		}
		short, long := min(w, h), max(w, h)
		across := max(1, min(cells, short/veil.LeastCell))
		most := across * (long*across/short + 2)
		if len(seen) > most {
			t.Fatalf("%d values come back of %d × %d with %d cells across", len(seen), w, h, across)
		}
	})
}

func TestOutsideThePictureThereIsNothingToHide(t *testing.T) {
	v := veil.Veil{Shape: veil.Ellipse, Bounds: image.Rect(200, 200, 240, 240), Style: veil.Solid, Cells: 1}
	assert.Nil(t, veil.Make(v, image.Rect(0, 0, 100, 100), 3, nil))
}

func TestMapTurnsTheRegion(t *testing.T) {
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(10, 0, 30, 5), Points: []image.Point{{X: 1, Y: 2}}}
	// A quarter turn of a plane 100 high.
	got := v.Map(func(p image.Point) image.Point { return image.Pt(99-p.Y, p.X) })
	assert.Equal(t, image.Rect(95, 10, 100, 30), got.Bounds)
	assert.Equal(t, []image.Point{{X: 97, Y: 1}}, got.Points)
}
