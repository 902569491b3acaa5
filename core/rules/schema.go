package rules

import (
	"bytes"
	_ "embed" // the schema
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"sync"

	"github.com/google/jsonschema-go/jsonschema"
)

//go:embed schema.json
var schema []byte

// Schema returns the JSON Schema (draft 2020-12) of a rules document.
func Schema() []byte { return bytes.Clone(schema) }

// form is the schema of one value. The library ends at the first thing that is wrong, so it is
// asked about each value by itself, and every place is told.
type form struct {
	says   *jsonschema.Schema
	alone  *jsonschema.Resolved // what is said of the value itself, not of what lies in it
	fields map[string]*form     // of an object
	each   *form                // of a list
}

// documentForm is made when the first document is read: most commands read none.
var documentForm = sync.OnceValues(func() (*form, error) {
	root := new(jsonschema.Schema)
	if err := json.Unmarshal(schema, root); err != nil {
		return nil, err
	}
	return formOf(root, root.Defs)
})

// formOf takes a schema apart. References lead to defs by name.
func formOf(s *jsonschema.Schema, defs map[string]*jsonschema.Schema) (*form, error) {
	if name, ok := strings.CutPrefix(s.Ref, "#/$defs/"); ok {
		if defs[name] == nil {
			return nil, fmt.Errorf("the schema has no part %q", name)
		}
		s = defs[name]
	}
	f := &form{says: s, fields: map[string]*form{}}
	alone := *s
	alone.Defs, alone.Items, alone.Properties = nil, nil, map[string]*jsonschema.Schema{}
	var err error
	for name, field := range s.Properties {
		alone.Properties[name] = new(jsonschema.Schema)
		if f.fields[name], err = formOf(field, defs); err != nil {
			return nil, err
		}
	}
	if s.Items != nil {
		if f.each, err = formOf(s.Items, defs); err != nil {
			return nil, err
		}
	}
	f.alone, err = alone.Resolve(nil)
	return f, err
}

// faults are all places of a document, from value v on, that are not as the schema wants them.
func (f *form) faults(at []string, v, doc any) (all Faults) {
	if f.alone.Validate(v) != nil {
		all = append(all, Fault{named(at, doc), f.wrong(v)})
	}
	inside := func(f *form, step string, v any) {
		all = append(all, f.faults(append(at, step), v, doc)...)
	}
	switch v := v.(type) {
	case map[string]any:
		for _, name := range slices.Sorted(maps.Keys(v)) {
			if field := f.fields[name]; field != nil {
				inside(field, name, v[name])
			}
		}
	case []any:
		for i, element := range v {
			if f.each != nil {
				inside(f.each, strconv.Itoa(i), element)
			}
		}
	}
	return all
}

// wrong says what a value that was refused lacks, or what would do in its place.
func (f *form) wrong(v any) string {
	fields, ok := v.(map[string]any)
	if !ok || f.says.Type != "object" {
		return fmt.Sprintf("%s will not do here. Use %s.", brief(v), f.wanted())
	}
	var said []string
	var missing, unknown []string
	for _, name := range f.says.Required {
		if _, ok := fields[name]; !ok {
			missing = append(missing, name)
		}
	}
	for _, name := range slices.Sorted(maps.Keys(fields)) {
		if f.fields[name] == nil {
			unknown = append(unknown, name)
		}
	}
	if len(missing) > 0 {
		said = append(said, "missing: "+strings.Join(missing, ", "))
	}
	if len(unknown) > 0 {
		said = append(said, "not known here: "+strings.Join(unknown, ", "))
	}
	return strings.Join(said, "; ")
}

// kinds are the types of JSON values, as people call them.
var kinds = map[string]string{
	"object": "an object, in curly brackets", "array": "a list, in square brackets", "string": "text, in quotation marks",
	"integer": "a whole number", "number": "a number", "boolean": "true or false",
}

// wanted is what would do, in words.
func (f *form) wanted() string {
	s := f.says
	switch {
	case s.Const != nil:
		return brief(*s.Const)
	case s.Enum != nil:
		all := make([]string, len(s.Enum))
		for i, v := range s.Enum {
			all[i] = brief(v)
		}
		return "one of " + strings.Join(all, ", ")
	case s.Pattern != "" && s.Description != "":
		return s.Description
	}
	text := kinds[s.Type] + between(s.Minimum, s.Maximum, "")
	if s.ExclusiveMinimum != nil {
		text += fmt.Sprintf(" above %v", *s.ExclusiveMinimum)
	}
	return text + between(s.MinItems, s.MaxItems, " elements") + between(s.MinLength, s.MaxLength, " letters")
}

// between says what bounds there are.
func between[T int | float64](least, most *T, of string) string {
	switch {
	case least != nil && most != nil:
		return fmt.Sprintf(", from %v to %v%s", *least, *most, of)
	case least != nil:
		return fmt.Sprintf(", at least %v%s", *least, of)
	case most != nil:
		return fmt.Sprintf(", at most %v%s", *most, of)
	}
	return ""
}

// brief is a value as JSON, shortened to what helps to find it.
func brief(v any) string {
	data, err := json.Marshal(v)
	if err != nil {
		return fmt.Sprint(v)
	}
	if text := []rune(string(data)); len(text) > 60 {
		return string(text[:60]) + "…"
	}
	return string(data)
}
