package drawing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/rules"
	"mivlet/web/drawing"
)

func slot(t *testing.T, id string) rules.Slot {
	t.Helper()
	s, ok := rules.Default().Slot(id)
	require.True(t, ok)
	return s
}

func TestTheDrawingIsToScale(t *testing.T) {
	s := drawing.Column("Desktop", rules.Default(), 1280, slot(t, "column"), fit.Size{W: 6000, H: 4000}, 0.25, 200)
	assert.Equal(t, 990*0.25, s.Page.W)
	assert.Equal(t, 640*0.25, s.Picture.W)
	assert.InDelta(t, 427*0.25, s.Picture.H, 0.5)
	assert.Equal(t, "640", s.Dims[0].Label)
	assert.Equal(t, "427", s.Dims[1].Label)
	assert.InDelta(t, s.Picture.W, s.Dims[0].X2-s.Dims[0].X1, 1e-9, "the dimension line is as long as what it measures")
}

func TestOnAPhoneTheSlotGivesWay(t *testing.T) {
	s := drawing.Column("Phone", rules.Default(), 390, slot(t, "column"), fit.Size{W: 300, H: 200}, 0.25, 200)
	assert.Equal(t, "360", s.Dims[0].Label)
}

func TestTextFlowsBesideASidePicture(t *testing.T) {
	beside := drawing.Column("Desktop", rules.Default(), 1280, slot(t, "side"), fit.Size{W: 3, H: 2}, 0.25, 200)
	alone := drawing.Column("Desktop", rules.Default(), 1280, slot(t, "column"), fit.Size{W: 3, H: 2}, 0.25, 200)
	assert.Greater(t, len(beside.Text), len(alone.Text))
	for _, line := range beside.Text {
		overlaps := line.X < beside.Picture.X+beside.Picture.W && line.Y < beside.Picture.Y+beside.Picture.H && line.Y+line.H > beside.Picture.Y
		assert.False(t, overlaps, "text runs through the picture: %+v", line)
	}
}
