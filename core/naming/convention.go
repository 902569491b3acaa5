package naming

import "strings"

// Convention is how a house names its pictures: an ordered row of parts, what
// joins them and which letters they are written in.
type Convention struct {
	Parts   []Part   `json:"parts"`
	Joiner  string   `json:"joiner"`  // between parts and words: "-", "_" or ""
	Case    Case     `json:"case"`    // of letters
	Longest int      `json:"longest"` // characters without the extension
	Never   []string `json:"never"`   // words that tell nothing, in lower case

	language string // of the house, while a name is worked out
}

// Part is one part of a name.
type Part struct {
	Kind     Kind   `json:"kind"`
	Required bool   `json:"required"`
	Form     string `json:"form,omitempty"`  // of a date: "2006-01-02", "20060102", "2006-01" or "2006"
	Width    int    `json:"width,omitempty"` // of a number: digits, with leading zeros
	Start    int    `json:"start,omitempty"` // of a number: the first one
}

// Kind is what a part tells.
type Kind string

// The kinds of parts.
const (
	Section Kind = "section" // code of the section
	Subject Kind = "subject" // what the picture shows
	Detail  Kind = "detail"
	Place   Kind = "place"
	Taken   Kind = "taken" // the day the picture was taken
	Today   Kind = "today" // the day it is named
	Number  Kind = "number"
	Slot    Kind = "slot"
	Variant Kind = "variant"
)

// Kinds lists all kinds in the order they are offered.
var Kinds = []Kind{Section, Subject, Detail, Place, Taken, Today, Number, Slot, Variant}

// Case is how letters are written.
type Case string

// The cases.
const (
	Lower    Case = "lower"
	Capitals Case = "capitals" // Capitals separate the words
	AsTyped  Case = "typed"
)

// DateForms are the forms of a date that are offered, as Go writes them.
var DateForms = []string{"2006-01-02", "20060102", "2006-01", "200601", "2006"}

// Usual is the convention a house starts from: section first, then what it
// shows, then a number where it needs one (common practice).
func Usual() Convention {
	return Convention{
		Parts:  []Part{{Kind: Section, Required: true}, {Kind: Subject, Required: true}, {Kind: Detail}, {Kind: Taken, Form: DateForms[0]}, {Kind: Number, Width: 1, Start: 2}},
		Joiner: "-", Case: Lower, Longest: 80,
		Never: []string{"image", "images", "photo", "picture", "pic", "untitled", "copy", "final", "new", "img", "dsc", "screenshot", "edited", "scan"},
	}
}

// Identifier turns a title into what stands for it in addresses: lower-case
// letters, digits and hyphens, beginning with a letter; "" where nothing is left.
func Identifier(title string) string {
	id := strings.Join(Convention{Case: Lower}.Words(title), "-")
	id = strings.TrimLeft(id, "-0123456789")
	if len(id) > 30 {
		id = strings.TrimRight(id[:30], "-")
	}
	return id
}
