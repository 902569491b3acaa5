package rules

import (
	"bytes"
	"cmp"
	_ "embed" // the schema
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"sync"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"
	"golang.org/x/text/language"
	"golang.org/x/text/message"
)

//go:embed schema.json
var schema []byte

// Schema returns the JSON Schema (draft 2020-12) of a rules document.
func Schema() []byte { return bytes.Clone(schema) }

var compiled = sync.OnceValues(func() (*jsonschema.Schema, error) {
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(schema))
	if err != nil {
		return nil, err
	}
	c := jsonschema.NewCompiler()
	if err := c.AddResource("rules.json", doc); err != nil {
		return nil, err
	}
	return c.Compile("rules.json")
})

// Parse reads a rules document. It fails with [Faults] that name every place
// that is wrong: where it is no JSON, where it is not as the schema wants it,
// and where it contradicts itself.
func Parse(data []byte) (Rules, error) {
	if err := checkSyntax(data); err != nil {
		return Rules{}, err
	}
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(data))
	if err != nil {
		return Rules{}, Faults{{"", err.Error()}}
	}
	s, err := compiled()
	if err != nil {
		return Rules{}, err
	}
	var wrong *jsonschema.ValidationError
	if err := s.Validate(doc); errors.As(err, &wrong) {
		return Rules{}, flatten(wrong, doc)
	} else if err != nil {
		return Rules{}, err
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

var english = message.NewPrinter(language.English)

// flatten gives the innermost reasons, with places that name what an element
// of a list is called rather than its position.
func flatten(e *jsonschema.ValidationError, doc any) Faults {
	if len(e.Causes) == 0 {
		text := e.ErrorKind.LocalizedString(english)
		if extra, ok := e.ErrorKind.(*kind.AdditionalProperties); ok {
			text = "not known here: " + strings.Join(extra.Properties, ", ")
		}
		return Faults{{named(e.InstanceLocation, doc), text}}
	}
	var all Faults
	for _, c := range e.Causes {
		all = append(all, flatten(c, doc)...)
	}
	return all
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
