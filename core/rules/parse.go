package rules

import (
	"bytes"
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
)

// Parse reads a rules document. It fails with [Faults] that name every place
// that is wrong: where it is no JSON, where it is not as the schema wants it,
// and where it contradicts itself.
func Parse(data []byte) (Rules, error) {
	if err := checkSyntax(data); err != nil {
		return Rules{}, err
	}
	var doc any
	if err := json.Unmarshal(data, &doc); err != nil {
		return Rules{}, Faults{{"", err.Error()}}
	}
	whole, err := documentForm()
	if err != nil {
		return Rules{}, err
	}
	if faults := whole.faults(nil, doc, doc); len(faults) > 0 {
		return Rules{}, faults
	}
	var r Rules
	if err := json.Unmarshal(data, &r); err != nil {
		return Rules{}, Faults{{"", err.Error()}}
	}
	r = r.completed()
	if faults := r.Check(); len(faults) > 0 {
		return Rules{}, faults
	}
	return r.Resolved(), nil
}

// ParseDraft reads a document that need not hold together yet.
func ParseDraft(data []byte) (Rules, error) {
	var r Rules
	err := json.Unmarshal(data, &r)
	return r.completed().Resolved(), err
}

// completed fills in what documents of earlier days do not say yet, as a new house has
// it.
func (r Rules) completed() Rules {
	usual := Default()
	r.Limits.Frames = cmp.Or(r.Limits.Frames, usual.Limits.Frames)
	r.Limits.FramePixels = cmp.Or(r.Limits.FramePixels, usual.Limits.FramePixels)
	r.Placing.CacheHours = cmp.Or(r.Placing.CacheHours, usual.Placing.CacheHours)
	if r.Placing.Lighter == nil {
		r.Placing.Lighter = []string{}
	}
	r.TextSizes = TextSizes{Lead: r.TextSizes.Of(Lead), Small: r.TextSizes.Of(Small), Note: r.TextSizes.Of(Note)}
	return r
}

// Encode writes the document, indented, as people read it.
func (r Rules) Encode() []byte {
	data, err := json.MarshalIndent(r.plain(), "", "  ")
	if err != nil {
		panic(err) // values of our own always have a JSON form
	}
	return append(data, '\n')
}

// checkSyntax names the line where the JSON breaks.
func checkSyntax(data []byte) error {
	var any json.RawMessage
	err := json.Unmarshal(data, &any)
	var syntax *json.SyntaxError
	if errors.As(err, &syntax) {
		line := 1 + bytes.Count(data[:min(int(syntax.Offset), len(data))], []byte("\n"))
		return Faults{{fmt.Sprintf("line %d", line), "this is no JSON: " + syntax.Error()}}
	}
	return err
}

// named writes a place as a path. An element of a list is called by its id,
// code, media type or kind where it has one.
func named(place []string, doc any) string {
	var b strings.Builder
	at := doc
	for _, step := range place {
		b.WriteByte('/')
		switch v := at.(type) {
		case map[string]any:
			b.WriteString(step)
			at = v[step]
		case []any:
			i := 0
			_, _ = fmt.Sscan(step, &i)
			at = nil
			if i >= 0 && i < len(v) {
				at = v[i]
			}
			if key := keyOf(at); key != "" {
				step = key
			}
			b.WriteString(step)
		default:
			b.WriteString(step)
		}
	}
	return b.String()
}

// keyFields are the fields that an element of a list is called by.
var keyFields = []string{"id", "code", "media_type", "kind"}

// keyOf returns what an element of a list is called.
func keyOf(v any) string {
	m, ok := v.(map[string]any)
	if !ok {
		return ""
	}
	for _, name := range keyFields {
		if s, ok := m[name].(string); ok && s != "" {
			return s
		}
	}
	return ""
}
