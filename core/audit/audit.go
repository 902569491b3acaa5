// Package audit finds what falls short in a picture before it goes live, what
// that costs, and which step mends it.
package audit

import (
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

// Code names what a finding is about. Its sentence stands in the package sentences, with
// the values in their order.
type Code string

// The findings of a picture. The values that follow each are told in brackets.
const (
	Said           Code = "said"           // [a words.Remark of its words, or a naming.Problem of its name]
	NoCredit       Code = "no-credit"      // []
	RefusedFace    Code = "refused-face"   // [people]
	Refused        Code = "refused"        // [people]
	Ended          Code = "ended"          // [people]
	Unasked        Code = "unasked"        // [people]
	OpenFace       Code = "open-face"      // [faces]
	NobodyNoted    Code = "nobody-noted"   // []
	NoSlot         Code = "no-slot"        // []
	Soft           Code = "soft"           // [pixels, CSS px]
	LittleSoft     Code = "little-soft"    // [pixels for each CSS px]
	FirstFrameOnly Code = "first-frame"    // [frames]
	StandsStill    Code = "stands-still"   // []
	PersonInName   Code = "person-in-name" // [words of the name]
)

// Finding is one thing that falls short: a code with its values.
type Finding struct {
	Level  words.Level
	Step   Stretch // where it is mended
	Code   Code
	Values []any
}

// finding is a finding without an example.
func finding(level words.Level, step Stretch, code Code, values ...any) Finding {
	return Finding{Level: level, Step: step, Code: code, Values: values}
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
		fs = append(fs, finding(f.Level, Describe, Said, f))
	}
	if w.House.Words.CreditAsked && strings.TrimSpace(w.Credit) == "" {
		fs = append(fs, finding(words.Warn, Describe, NoCredit))
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
	told := func(n int, level words.Level, step Stretch, code Code) {
		if n > 0 {
			fs = append(fs, finding(level, step, code, n))
		}
	}
	open := OpenFaces(w)
	if len(open) > 0 && refused > 0 {
		told(refused, words.Stop, Hide, RefusedFace)
	} else {
		told(refused, words.Stop, Hide, Refused)
	}
	told(ended, words.Stop, Hide, Ended)
	told(unasked, words.Warn, Describe, Unasked)
	if len(open) > 0 && (len(w.Seen) == 0 || unasked > 0) {
		level := words.Warn
		if w.House.Hiding.FacesStop {
			level = words.Stop
		}
		return append(fs, finding(level, Hide, OpenFace, len(open)))
	}
	if len(w.Seen) == 0 && w.House.Words.ConsentAsked {
		fs = append(fs, finding(words.Warn, Describe, NobodyNoted))
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

// CheckFit returns the findings about slot and frame alone.
func CheckFit(w Picture) []Finding {
	if w.Slot == nil {
		return []Finding{finding(words.Stop, Fit, NoSlot)}
	}
	var fs []Finding
	cuts := w.Recipe.View(w.Facts.Upright()).Plan(w.Slot.Want(), w.Slot.Scales())
	best := cuts[len(cuts)-1]
	switch {
	case best.Effective < 1:
		fs = append(fs, finding(words.Stop, Frame, Soft, best.Size.W, best.CSSWidth))
	case best.Effective < 1.5 && w.Slot.Sharpest() >= 2:
		fs = append(fs, finding(words.Warn, Frame, LittleSoft, best.Effective))
	}
	if w.Facts.Frames > 1 && !w.Facts.KeepsMotion() {
		fs = append(fs, finding(words.Warn, Fit, FirstFrameOnly, w.Facts.Frames))
	}
	if w.Facts.Frames > 1 && w.Facts.KeepsMotion() && !w.Slot.TakesMotion() {
		fs = append(fs, finding(words.Warn, Fit, StandsStill))
	}
	return fs
}

func checkName(w Picture) []Finding {
	var fs []Finding
	for _, p := range w.House.Naming.Check(w.Name, w.House.Clues(w.Section, w.Facts.Taken)) {
		fs = append(fs, finding(words.Stop, Name, Said, p))
	}
	for _, t := range private.Judge(strings.ReplaceAll(w.Name, "-", " "), w.House.Hiding.Watch...) {
		fs = append(fs, finding(words.Warn, Name, PersonInName, t.Text))
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
