package site

import (
	"cmp"
	"slices"
	"strings"
	"time"
)

// A File is one that a destination shall have.
type File struct {
	Path  string
	Sum   string // of its content, SHA-256 in hex digits
	Bytes int64
	Kind  Kind
}

// Kind says when a file is sent.
type Kind int

// The kinds of files, in the order in which they are sent.
const (
	Shown  Kind = iota // pictures, styles, scripts, files to download
	Frame              // what runs in a spot of a page
	Page               // a page
	Server             // what tells the server where pages have moved
)

// Sent is a file that was sent before.
type Sent struct {
	Path   string
	Sum    string
	Bytes  int64
	Unused time.Time // since when nothing leads to it; zero where something does
	AtOnce bool      // it must not stay once nothing leads to it
}

// Plan is what is to be done at a destination.
type Plan struct {
	Send    []File // in this order
	Remove  []Sent // after that
	Waiting []Sent // nothing leads to them any more; they stay for a while
	Same    []File // that are there as they shall be
}

// Bytes returns how many bytes are to be sent.
func (p Plan) Bytes() int64 {
	var n int64
	for _, f := range p.Send {
		n += f.Bytes
	}
	return n
}

// Idle reports whether there is nothing to send and nothing to remove.
func (p Plan) Idle() bool { return len(p.Send)+len(p.Remove) == 0 }

// Compare plans what makes a destination hold what is wanted. What pages show is sent before them.
// New pages come before those that have changed, as those may lead to them, and pages before the
// lists above them. What is no longer wanted stays for a time of grace, in which browsers may show
// pages that they still have; grace counts from when it was first not wanted.
func Compare(wanted []File, sent []Sent, now time.Time, grace time.Duration) Plan {
	there := make(map[string]Sent, len(sent))
	for _, s := range sent {
		there[s.Path] = s
	}
	var p Plan
	for _, f := range wanted {
		if was, ok := there[f.Path]; ok && was.Sum == f.Sum {
			p.Same = append(p.Same, f)
		} else {
			p.Send = append(p.Send, f)
		}
	}
	slices.SortFunc(p.Send, func(a, b File) int {
		return cmp.Or(cmp.Compare(a.Kind, b.Kind), compareNew(there, a, b), -cmp.Compare(depth(a), depth(b)), strings.Compare(a.Path, b.Path))
	})
	for _, f := range wanted {
		delete(there, f.Path)
	}
	for _, s := range there {
		if s.AtOnce || grace <= 0 || !s.Unused.IsZero() && now.Sub(s.Unused) >= grace {
			p.Remove = append(p.Remove, s)
		} else {
			p.Waiting = append(p.Waiting, s)
		}
	}
	byPath := func(a, b Sent) int { return strings.Compare(a.Path, b.Path) }
	slices.SortFunc(p.Remove, byPath)
	slices.SortFunc(p.Waiting, byPath)
	return p
}

// compareNew puts pages that are not there yet before those that are.
func compareNew(there map[string]Sent, a, b File) int {
	if a.Kind != Page {
		return 0
	}
	_, oldA := there[a.Path]
	_, oldB := there[b.Path]
	switch {
	case oldA == oldB:
		return 0
	case oldA:
		return 1
	}
	return -1
}

func depth(f File) int { return strings.Count(f.Path, "/") }
