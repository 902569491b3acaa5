package rules

import (
	"bytes"
	"encoding/json"
	"fmt"
	"maps"
	"slices"
)

// Given is what whoever looks after many houses has decided for all of them, as parts of the document (RFC 7396, JSON
// Merge Patch). Its zero value decides nothing.
type Given struct {
	fixed, first map[string]any
}

// fixable are the parts that can be the same in all houses, each with its title. The others are what a house has of its
// own: taking a slot or a section away would strand the pictures and pages that use it.
var fixable = map[string]string{"types": "Types of files", "limits": "Limits", "placing": "Placing", "naming": "Names", "words": "Words", "hiding": "Hiding", "text_sizes": "Text sizes", "time_zone": "Time zone"}

// ParseGiven reads what is given: {"fixed": …} holds in every house and cannot be changed there, {"first": …} is what a
// new house begins with. It fails with [Faults].
func ParseGiven(data []byte) (Given, error) {
	var said struct {
		Fixed map[string]any `json:"fixed"`
		First map[string]any `json:"first"`
	}
	if err := checkSyntax(data); err != nil {
		return Given{}, err
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(&said); err != nil {
		return Given{}, Faults{{"", err.Error()}}
	}
	for _, part := range slices.Sorted(maps.Keys(said.Fixed)) {
		if fixable[part] == "" {
			return Given{}, Faults{{"/fixed/" + part, "this is a house's own; it can be in \"first\" alone"}}
		}
	}
	g := Given{said.Fixed, said.First}
	if _, err := patched(Default(), g.first); err != nil {
		return Given{}, err
	}
	_, err := patched(Default(), g.fixed)
	return g, err
}

// patched is a document with some parts of it replaced.
func patched(r Rules, by map[string]any) (Rules, error) {
	if len(by) == 0 {
		return r, nil
	}
	var doc any
	if err := json.Unmarshal(r.Encode(), &doc); err != nil {
		return r, err
	}
	text, err := json.Marshal(merge(doc, by))
	if err != nil {
		return r, err
	}
	return Parse(text)
}

// merge is MergePatch of RFC 7396, 2.
func merge(target, patch any) any {
	by, ok := patch.(map[string]any)
	if !ok {
		return patch
	}
	into, ok := target.(map[string]any)
	if !ok {
		into = map[string]any{}
	}
	for name, value := range by {
		if value == nil {
			delete(into, name)
		} else {
			into[name] = merge(into[name], value)
		}
	}
	return into
}

// Over returns rules as they hold under what is given. Where both together would contradict each other, those of the house
// hold as they are, and what is wrong is returned.
func (g Given) Over(r Rules) (Rules, error) {
	held, err := patched(r, g.fixed)
	if err != nil {
		return r, fmt.Errorf("what is given for all houses does not go with the rules of this one: %w", err)
	}
	return held, nil
}

// Begin are the rules that a new house begins with.
func (g Given) Begin() (Rules, error) {
	r, err := patched(Default(), g.first)
	if err != nil {
		return r, err
	}
	return g.Over(r)
}

// Refused are the places at which rules differ from what is given, each with what it has to be.
func (g Given) Refused(r Rules) Faults {
	held, err := g.Over(r)
	if err != nil {
		return nil // they do not hold together for another reason, which is told by itself
	}
	var all Faults
	for _, c := range Compare(r, held) {
		to := c.To
		if to == "" {
			to = "not there"
		}
		all = append(all, Fault{c.At, fmt.Sprintf("It is the same in all houses: %s.", to)})
	}
	return all
}

// Titles are the titles of the parts that are the same in all houses, at least in part.
func (g Given) Titles() []string {
	var all []string
	for _, part := range slices.Sorted(maps.Keys(g.fixed)) {
		if inside, ok := g.fixed[part].(map[string]any); !ok || len(inside) > 0 {
			all = append(all, fixable[part])
		}
	}
	return all
}
