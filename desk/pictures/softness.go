package pictures

import (
	"mivlet/core/audit"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/store"
)

// Softness is the level of what a picture lacks in crispness for its slot.
func Softness(d *Desk, p store.Picture) words.Level { return softFor(d.Work(p)) }

// SoftnessIn is softness for another slot.
func SoftnessIn(d *Desk, p store.Picture, slot rules.Slot) words.Level {
	w := d.Work(p)
	w.Slot = &slot
	return softFor(w)
}

func softFor(w audit.Picture) words.Level {
	if w.Slot == nil {
		return ""
	}
	for _, f := range audit.At(audit.CheckFit(w), audit.Frame) {
		if f.Level == words.Stop || f.Level == words.Warn {
			return f.Level
		}
	}
	return ""
}
