// Package consent is what is known of the people who are seen on a picture:
// whether they may be, until when, and which veils cover those who may not.
package consent

import (
	"fmt"
	"slices"
	"strings"
)

// State is what somebody said, or what is known instead.
type State string

// The states, from the one that binds least to the one that binds most.
const (
	Unknown State = ""        // nothing is noted
	Nobody  State = "nobody"  // nobody can be recognised
	Allowed State = "allowed" // they agreed
	Unasked State = "unasked" // they have not been asked
	Refused State = "refused" // they said no
)

// States lists those that an entry can have, in the order they are offered.
var States = []State{Nobody, Unasked, Allowed, Refused}

// Entry is one person or group on a picture.
type Entry struct {
	ID    string   `json:"id"`
	Whom  string   `json:"whom,omitempty"` // in the house's own words, or a code
	State State    `json:"state"`
	Until string   `json:"until,omitempty"` // the day on which a consent ends, 2006-01-02; empty for none
	Note  string   `json:"note,omitempty"`
	Veils []string `json:"veils,omitempty"` // those that cover this person
	By    string   `json:"by,omitempty"`    // who noted it
	On    string   `json:"on,omitempty"`    // the day it was noted, 2006-01-02
}

// Most is the most characters of what is said of one person.
const Most = 200

// Check refuses an entry that says nothing clear.
func (e Entry) Check() error {
	switch {
	case !slices.Contains(States, e.State):
		return fmt.Errorf("%q is no answer: it is one of nobody, unasked, allowed and refused", e.State)
	case e.State != Nobody && strings.TrimSpace(e.Whom) == "":
		return fmt.Errorf("the answer %q needs to say whose it is", e.State)
	case len([]rune(e.Whom)) > Most || len([]rune(e.Note)) > Most:
		return fmt.Errorf("whom and note have %d and %d characters: %d each is the most", len([]rune(e.Whom)), len([]rune(e.Note)), Most)
	}
	return nil
}

// Ended reports whether a consent has ended on a day, 2006-01-02: it ends on the
// day that is noted, not the day after.
func (e Entry) Ended(today string) bool {
	return e.State == Allowed && e.Until != "" && e.Until <= today
}

// Covered reports whether one of the veils that are said to cover the person is
// among those that a picture has.
func (e Entry) Covered(veils []string) bool {
	return slices.ContainsFunc(e.Veils, func(id string) bool { return id != "" && slices.Contains(veils, id) })
}

// Binding returns the entries that keep a picture with some veils from being shown
// on a day: refusals and consents that have ended, of people whom no veil covers.
func Binding(all []Entry, veils []string, today string) []Entry {
	var binding []Entry
	for _, e := range all {
		if (e.State == Refused || e.Ended(today)) && !e.Covered(veils) {
			binding = append(binding, e)
		}
	}
	return binding
}

// Strictest is the state that binds most.
func Strictest(all []Entry) State {
	strictest := Unknown
	for _, e := range all {
		if rank(e.State) > rank(strictest) {
			strictest = e.State
		}
	}
	return strictest
}

func rank(s State) int { return slices.Index([]State{Unknown, Nobody, Allowed, Unasked, Refused}, s) }

// FirstEnd is the first day on which a consent ends; empty where none does.
func FirstEnd(all []Entry) string {
	first := ""
	for _, e := range all {
		if e.State == Allowed && e.Until != "" && (first == "" || e.Until < first) {
			first = e.Until
		}
	}
	return first
}
