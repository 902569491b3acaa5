package textline_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/textline"
)

func at(x, y, w, h int) textline.Line {
	return textline.Line{Bounds: image.Rect(x, y, x+w, y+h), Height: h}
}

func TestColumns(t *testing.T) {
	t.Parallel()
	lines := []textline.Line{
		at(10, 0, 80, 10), at(200, 0, 60, 10), // a head
		at(12, 30, 50, 10), at(198, 30, 90, 10),
		at(10, 60, 70, 11), at(201, 60, 30, 9),
		at(10, 400, 60, 10),                                           // far below
		at(60, 90, 300, 30),                                           // a heading of another height
		at(500, 0, 100, 10), at(540, 30, 60, 10), at(560, 60, 40, 10), // flush right
	}
	assert.Equal(t, [][]int{{0, 2, 4}, {1, 3, 5}, {8, 9, 10}}, textline.Columns(lines))
	assert.Empty(t, textline.Columns(lines[:4]))
	assert.Empty(t, textline.Columns(nil))
}

// The rota has five columns: days, times, names, addresses and numbers.
func TestColumnsOfAScreenshot(t *testing.T) {
	t.Parallel()
	lines := textline.Find(pixels(t, "../../demo/pictures/Screenshot 2026-11-02.png"))
	found := textline.Columns(lines)
	assert.GreaterOrEqual(t, len(found), 4)
	six := 0
	for _, c := range found {
		if len(c) >= 6 {
			six++
		}
	}
	assert.GreaterOrEqual(t, six, 3, "names, addresses and numbers, six of each: %v", found)
}
