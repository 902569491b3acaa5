package access

import (
	"mivlet/core/rules"
)

// Version is a version of the house rules.
type Version struct {
	rules.Rules
	Number uint
}

// Hold has a version of the rules hold from now on.
func (h *House) Hold(v Version) { h.rules.Store(&v) }
