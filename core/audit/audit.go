// Package audit finds what falls short in a picture before it goes live, what
// that costs, and which step mends it.
package audit

import (
	"fmt"
	"slices"
	"strings"

	"mivlet/core/consent"
	"mivlet/core/face"
	"mivlet/core/facts"
	"mivlet/core/private"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/core/words"
)

// Stretch is a stretch of the walk on the bench.
type Stretch string

// The steps, in the order they are walked.
const (
	Fit      Stretch = "fit"
	Frame    Stretch = "frame"
	Hide     Stretch = "hide"
	Name     Stretch = "name"
	Describe Stretch = "describe"
)

// Finding is one thing that falls short.
type Finding struct {
	Level words.Level
	Step  Stretch // where it is mended
	Text  string
	// Example shows how it could be; empty where the text tells it.
	Example string
}

// Picture is a picture as it lies on the bench.
type Picture struct {
	Facts   facts.Facts
	Recipe  recipe.Recipe
	Slot    *rules.Slot // nil until one is chosen
	Name    string
	Said    words.Said // its words, and those around it
	Section string
	Seen    []consent.Entry // who is seen on it, and whether they may be
	Faces   []face.Face     // that were found in it
	Left    []string        // faces that may be seen, by their IDs
	Today   string          // 2006-01-02
	Credit  string
	House   rules.Rules
}

// Check returns the findings of a picture in the order of the walk.
func Check(w Picture) []Finding {
	fs := append(CheckFit(w), checkName(w)...)
	said := w.Said
	said.Watch = w.House.Hiding.Watch
	said.Language, said.Longest, said.LongestCap = w.House.Words.Language, w.House.Words.LongestAlt, w.House.Words.LongestCaption
	for _, f := range words.Check(said) {
		fs = append(fs, Finding{f.Level, Describe, f.Text, f.Example})
	}
	if w.House.Words.CreditAsked && strings.TrimSpace(w.Credit) == "" {
		fs = append(fs, Finding{words.Warn, Describe, "Add a credit: who made it? (house rules)", ""})
	}
	return append(fs, checkConsent(w)...)
}

// checkConsent stops a picture of somebody who said no, or whose consent has ended, and
// whom no veil is said to cover. It names nobody: findings are read by many.
func checkConsent(w Picture) []Finding {
	var refused, ended, unasked int
	veils := w.Recipe.VeilIDs()
	for _, e := range consent.Binding(w.Seen, veils, w.Today) {
		if e.State == consent.Refused {
			refused++
		} else {
			ended++
		}
	}
	for _, e := range w.Seen {
		if e.State == consent.Unasked && !e.Covered(veils) {
			unasked++
		}
	}
	var fs []Finding
	told := func(n int, level words.Level, step Stretch, format string) {
		if n > 0 {
			fs = append(fs, Finding{level, step, fmt.Sprintf(format, people(n)), ""})
		}
	}
	open := OpenFaces(w)
	if len(open) > 0 && refused > 0 {
		told(refused, words.Stop, Hide, "%s in this picture refused permission. Under “Who is seen”, choose which face is theirs, or which veil covers them. (house rules)")
	} else {
		told(refused, words.Stop, Hide, "%s in this picture refused permission, and no veil covers them. Choose the veil that does, draw one, or use another picture. (house rules)")
	}
	told(ended, words.Stop, Hide, "%s in this picture gave permission that has ended. Ask again, choose the veil that covers them, or use another picture. (house rules)")
	told(unasked, words.Warn, Describe, "%s in this picture has not been asked for permission yet. (house rules)")
	if len(open) > 0 && (len(w.Seen) == 0 || unasked > 0) {
		level := words.Warn
		if w.House.Hiding.FacesStop {
			level = words.Stop
		}
		return append(fs, Finding{level, Hide, askAbout(len(open)), ""})
	}
	if len(w.Seen) == 0 && w.House.Words.ConsentAsked {
		fs = append(fs, Finding{words.Warn, Describe, "Note who can be seen, or that nobody can be recognised. (house rules)", ""})
	}
	return fs
}

// OpenFaces are the faces of a picture that no veil covers and that nobody has allowed.
func OpenFaces(w Picture) []face.Face {
	var open []face.Face
	veils := w.Recipe.Veils()
	for _, f := range w.Faces {
		if !veil.Hide(veils, f.Bounds) && !slices.Contains(w.Left, f.ID()) {
			open = append(open, f)
		}
	}
	return open
}

func askAbout(faces int) string {
	if faces == 1 {
		return "One face can be seen, and nobody was asked. Cover it, allow it, or note who it is. (house rules)"
	}
	return fmt.Sprintf("%d faces can be seen, and nobody was asked. Cover them, allow them, or note who they are. (house rules)", faces)
}

func people(n int) string {
	if n == 1 {
		return "One person"
	}
	return fmt.Sprintf("%d people", n)
}

// CheckFit returns the findings about slot and frame alone.
func CheckFit(w Picture) []Finding {
	if w.Slot == nil {
		return []Finding{{words.Stop, Fit, "Choose where the picture will go. Everything else follows from that.", ""}}
	}
	var fs []Finding
	cuts := w.Recipe.View(w.Facts.Upright()).Plan(w.Slot.Want(), w.Slot.Densities)
	best := cuts[len(cuts)-1]
	switch {
	case best.Effective < 1:
		fs = append(fs, Finding{words.Stop, Frame, fmt.Sprintf(
			"Soft on every screen: %d pixels for %d. Widen the frame, or choose a smaller slot.", best.Size.W, best.CSSWidth), ""})
	case best.Effective < 1.5 && w.Slot.Sharpest() >= 2:
		fs = append(fs, Finding{words.Warn, Frame, fmt.Sprintf(
			"A little soft on sharp screens: %.1f pixels where 2 would be crisp.", best.Effective), ""})
	}
	if w.Facts.Frames > 1 && !w.Facts.KeepsMotion() {
		fs = append(fs, Finding{words.Warn, Fit, fmt.Sprintf(
			"This is an animation of %d frames. The result shows only the first one.", w.Facts.Frames), ""})
	}
	if w.Facts.Frames > 1 && w.Facts.KeepsMotion() && !w.Slot.TakesMotion() {
		fs = append(fs, Finding{words.Warn, Fit, "This slot does not play animations. Choose another slot, or the frame to show.", ""})
	}
	return fs
}

func checkName(w Picture) []Finding {
	var fs []Finding
	for _, p := range w.House.Naming.Check(w.Name, w.House.Clues(w.Section, w.Facts.Taken)) {
		fs = append(fs, Finding{words.Stop, Name, p.Text, ""})
	}
	for _, t := range private.Judge(strings.ReplaceAll(w.Name, "-", " "), w.House.Hiding.Watch...) {
		fs = append(fs, Finding{words.Warn, Name, fmt.Sprintf("“%s” in the name is about a person, and everyone can read addresses. (common practice)", t.Text), ""})
	}
	return fs
}

// Stops returns the findings that keep a picture from going live.
func Stops(fs []Finding) []Finding {
	var stops []Finding
	for _, f := range fs {
		if f.Level == words.Stop {
			stops = append(stops, f)
		}
	}
	return stops
}

// At returns the findings of one step.
func At(fs []Finding, s Stretch) []Finding {
	var at []Finding
	for _, f := range fs {
		if f.Step == s {
			at = append(at, f)
		}
	}
	return at
}
