package rules

import (
	"bytes"
	"encoding/json"
	"errors"
	"maps"
	"slices"
	"strings"
	"testing"

	reference "github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// referencePlaces are the places that another implementation of JSON Schema (draft 2020-12)
// finds wrong in a document.
func referencePlaces(t require.TestingT, s *reference.Schema, doc any) []string {
	var wrong *reference.ValidationError
	if err := s.Validate(doc); err == nil {
		return nil
	} else if !errors.As(err, &wrong) {
		require.NoError(t, err)
	}
	places := map[string]bool{}
	var leaves func(e *reference.ValidationError)
	leaves = func(e *reference.ValidationError) {
		if len(e.Causes) == 0 {
			places[named(e.InstanceLocation, doc)] = true
		}
		for _, c := range e.Causes {
			leaves(c)
		}
	}
	leaves(wrong)
	return slices.Sorted(maps.Keys(places))
}

// spots are the objects and lists of a document, itself among them.
func spots(v any) (all []any) {
	switch v := v.(type) {
	case map[string]any:
		all = append(all, v)
		for _, name := range slices.Sorted(maps.Keys(v)) {
			all = append(all, spots(v[name])...)
		}
	case []any:
		all = append(all, v)
		for _, one := range v {
			all = append(all, spots(one)...)
		}
	}
	return all
}

// Documents that are wrong in up to four places are wrong in the same places for another
// implementation of the standard, and none is left unsaid.
func TestEveryWrongPlaceIsNamed(t *testing.T) {
	compiler := reference.NewCompiler()
	doc, err := reference.UnmarshalJSON(bytes.NewReader(schema))
	require.NoError(t, err)
	require.NoError(t, compiler.AddResource("rules.json", doc))
	other, err := compiler.Compile("rules.json")
	require.NoError(t, err)
	ours, err := documentForm()
	require.NoError(t, err)

	values := []any{nil, true, "", "x", "half", ".jpg", "#1f5c6b", "3:2", strings.Repeat("long ", 30), -1.0, 0.0, 0.5, 1.0, 2.5, 300.0, 1e9, []any{}, []any{1.0}, []any{"jpeg"}, map[string]any{}, map[string]any{"id": "a"}}
	kinds := map[int]bool{}
	rapid.Check(t, func(t *rapid.T) {
		var doc any
		require.NoError(t, json.Unmarshal(Default().Encode(), &doc))
		for range rapid.IntRange(1, 4).Draw(t, "faults") {
			value := rapid.SampledFrom(values).Draw(t, "value")
			switch at := rapid.SampledFrom(spots(doc)).Draw(t, "spot").(type) {
			case map[string]any:
				names := append(slices.Sorted(maps.Keys(at)), "never heard of")
				name := rapid.SampledFrom(names).Draw(t, "name")
				if rapid.Bool().Draw(t, "remove") {
					delete(at, name)
				} else {
					at[name] = value
				}
			case []any:
				if len(at) > 0 {
					at[rapid.IntRange(0, len(at)-1).Draw(t, "index")] = value
				}
			}
		}
		found := map[string]bool{}
		for _, f := range ours.faults(nil, doc, doc) {
			assert.NotEmpty(t, f.Text, f.At)
			found[f.At] = true
		}
		expected := referencePlaces(t, other, doc)
		assert.Equal(t, expected, slices.Sorted(maps.Keys(found)))
		kinds[min(len(expected), 2)] = true
	})
	assert.Len(t, kinds, 3, "right documents, and some wrong in one and in several places")
}
