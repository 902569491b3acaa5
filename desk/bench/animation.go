package bench

import (
	"mivlet/desk/derive"
)

// Frames lists the frames of an animation that its strip shows, counted from 0:
// all of them, or some of many, evenly.
func (b View) Frames() []int { return derive.FramesShown(b.Facts) }
