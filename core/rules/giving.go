package rules

import (
	"cmp"
	"encoding/json"
	"fmt"
	"hash/crc32"
	"maps"
	"reflect"
	"slices"
)

// Part is a part of the document that can be the same in all houses.
type Part struct{ Name, Title string }

// Parts are all of them, by their titles.
func Parts() []Part {
	var all []Part
	for name, title := range fixable {
		all = append(all, Part{name, title})
	}
	slices.SortFunc(all, func(a, b Part) int { return cmp.Compare(a.Title, b.Title) })
	return all
}

// Giving is how a part is given to all houses, seen from the rules of one.
type Giving string

// The ways.
const (
	Free      Giving = "free"      // each house decides, or begins with what is usual
	Alike     Giving = "alike"     // as it is in the rules of that one
	Otherwise Giving = "otherwise" // some other way
)

// Fixed tells how a part is given.
func (g Given) Fixed(part string, as Rules) Giving {
	given, ok := g.fixed[part]
	return giving(given, ok, document(as)[part])
}

// First tells what a new house begins with. What the house is called does not count.
func (g Given) First(as Rules) Giving {
	return giving(g.first, len(g.first) > 0, copied(as))
}

func giving(given any, ok bool, as any) Giving {
	switch {
	case !ok:
		return Free
	case reflect.DeepEqual(given, as):
		return Alike
	}
	return Otherwise
}

// Fix returns what is given with a part as it is in some rules. It fails where a part is a house's own.
func (g Given) Fix(part string, as Rules) (Given, error) {
	if fixable[part] == "" {
		return g, fmt.Errorf("invalid part %q: it is a house's own", part)
	}
	fixed := maps.Clone(g.fixed)
	if fixed == nil {
		fixed = map[string]any{}
	}
	fixed[part] = document(as)[part]
	return Given{fixed, g.first}, nil
}

// Free returns what is given without a part.
func (g Given) Free(part string) Given {
	fixed := maps.Clone(g.fixed)
	delete(fixed, part)
	return Given{fixed, g.first}
}

// BeginAs returns what is given with new houses that begin as some rules are.
func (g Given) BeginAs(r Rules) Given { return Given{g.fixed, copied(r)} }

// BeginUsually returns what is given with new houses that begin as is usual.
func (g Given) BeginUsually() Given { return Given{g.fixed, nil} }

// Digest is a number that tells what is given from what else could be; 0 where nothing is.
func (g Given) Digest() uint32 {
	if len(g.fixed) == 0 {
		return 0
	}
	text, err := json.Marshal(g.fixed) // by the names of its parts
	if err != nil {
		panic(err) // it was JSON
	}
	return crc32.ChecksumIEEE(text)
}

// Encode returns the document that [ParseGiven] reads.
func (g Given) Encode() ([]byte, error) {
	said := map[string]any{}
	if len(g.fixed) > 0 {
		said["fixed"] = g.fixed
	}
	if len(g.first) > 0 {
		said["first"] = g.first
	}
	return json.MarshalIndent(said, "", "  ")
}

// document are rules as their document has them.
func document(r Rules) (doc map[string]any) {
	if err := json.Unmarshal(r.Encode(), &doc); err != nil {
		panic(err) // it was encoded here
	}
	return doc
}

// copied is a document without what is one house's alone.
func copied(r Rules) map[string]any {
	doc := document(r)
	delete(doc, "house")
	return doc
}
