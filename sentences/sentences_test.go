package sentences

import (
	"go/ast"
	"go/parser"
	"go/token"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/audit"
	"mivlet/core/banner"
	"mivlet/core/naming"
	"mivlet/core/rules"
	"mivlet/core/survey"
	"mivlet/core/words"
)

// constants are the values of the constants of a type in a package of core.
func constants(t *testing.T, dir, kind string) (all []string) {
	t.Helper()
	files, err := filepath.Glob(filepath.Join("../core", dir, "*.go"))
	require.NoError(t, err)
	for _, file := range files {
		parsed, err := parser.ParseFile(token.NewFileSet(), file, nil, 0)
		require.NoError(t, err)
		ast.Inspect(parsed, func(n ast.Node) bool {
			v, ok := n.(*ast.ValueSpec)
			if !ok || len(v.Values) != 1 {
				return true
			}
			lit, ok := v.Values[0].(*ast.BasicLit)
			of, named := v.Type.(*ast.Ident)
			if !ok || !named || of.Name != kind {
				return true
			}
			value, err := strconv.Unquote(lit.Value)
			require.NoError(t, err)
			all = append(all, value)
			return true
		})
	}
	return all
}

// Every code of core has its sentence, every fix its button, and there is no sentence for
// nothing.
func TestEnglishIsComplete(t *testing.T) {
	for _, c := range []struct {
		dir, kind string
		said      []string
	}{
		{"audit", "Code", append(keys(english.findings), string(audit.Said))}, // says what words and names have to say
		{"audit", "Mending", keys(english.fixes)},
		{"words", "Code", keys(english.remarks)},
		{"naming", "Code", keys(english.problems)},
		{"banner", "Fault", append(keys(english.banners), string(banner.OfPicture), string(banner.OfAlt))}, // say what the picture and the words have to say
		{"banner", "Code", keys(english.conditions)},
		{"survey", "Code", keys(english.survey)},
		{"survey", "Code", slices.DeleteFunc(keys(english.kinds), func(c string) bool { return strings.HasPrefix(c, "alt-") && c != string(survey.NoAlt) })},
	} {
		assert.ElementsMatch(t, constants(t, c.dir, c.kind), c.said, "%s.%s", c.dir, c.kind)
	}
	for code, r := range english.remarks {
		assert.NotEmpty(t, r.text, code)
	}
}

func keys[K ~string, V any](m map[K]V) (all []string) {
	for k := range m {
		all = append(all, string(k))
	}
	return all
}

// What is wrong with a site that was made elsewhere is said with its values, and so is the way out.
func TestWhatASurveySays(t *testing.T) {
	for _, c := range []struct {
		f         survey.Finding
		what, way string
	}{
		{survey.Finding{Code: survey.FarTooLarge, Values: []any{2400, 600}}, "It is 2400 px wide, and 600 px are enough where it is shown widest.", "Cut it to the width that is needed."},
		{survey.Finding{Code: survey.BrokenPicture, Values: []any{"Pier.jpg", "pier.jpg"}}, "The picture Pier.jpg is not there.", "Perhaps pier.jpg is meant."},
		{survey.Finding{Code: survey.BrokenLink, Values: []any{"a.html", ""}}, "The link a.html leads to nothing.", "Let it lead to what is there, or remove it."},
		{survey.Finding{Code: "alt-placeholder"}, english.remarks[words.Placeholder].text, english.remarks[words.Placeholder].example},
		{survey.Finding{Code: survey.NoAlt}, english.survey[survey.NoAlt].text, english.survey[survey.NoAlt].example},
	} {
		what, way := Surveyed(c.f)
		assert.Equal(t, []string{c.what, c.way}, []string{what, way})
	}
}

// What core finds carries the values that its sentence speaks of: none is said with a hole.
func TestNoSentenceHasAHole(t *testing.T) {
	house := naming.Usual()
	capitals := house
	capitals.Case, capitals.Joiner = naming.Capitals, ""
	dated := naming.Convention{Parts: []naming.Part{{Kind: naming.Subject, Required: true}, {Kind: naming.Taken, Required: true, Form: naming.DateForms[0]}, {Kind: naming.Number, Required: true, Width: 3}}, Joiner: "_", Case: naming.Lower, Longest: 20}
	said := map[naming.Code]bool{}
	clues := naming.Clues{Section: "juniors", Others: []string{"touring"}}
	for _, name := range []string{"", "con", "juniors boat", "juniors-boat!", "Juniors-Boat", "-juniors--boat", "touring-boat", "boat", "DSC_0417", "juniors", "juniors-photo", strings.Repeat("juniors-boat-", 9), "red_boat"} {
		for _, c := range []naming.Convention{house, capitals, dated} {
			for _, p := range c.Check(name, clues) {
				said[p.Code] = true
				assert.NotContains(t, Problem(p), "%!", "%s: %s", name, p.Code)
			}
		}
	}
	said[naming.TakenName] = true // found where names are kept
	assert.ElementsMatch(t, constants(t, "naming", "Code"), keys(said))
	remarks := map[words.Code]bool{}
	for _, s := range []words.Said{{}, {Links: true}, {Alt: "image"}, {Alt: "DSC_0417.JPG"}, {Decorative: true, Alt: "x", Links: true}, {Alt: strings.Repeat("long ", 80), Caption: "A caption", LongestCap: 3},
		{Alt: "A boat", Caption: "a boat", Beside: []string{"A boat."}, Others: []string{"a boat"}}, {Alt: "Photo of a boat", Links: true, LinkName: "All dates"}, {Alt: "ALL BOATS RACE"},
		{Alt: "odo@brindlemere.example, 07700 900128, BM24 PDL, 14 Boatshed Lane, name: Ines Varrow, Pell", Watch: []string{"Pell"}, Hidden: []string{"Ines"}}} {
		for _, r := range words.Check(s) {
			remarks[r.Code] = true
			assert.NotContains(t, Remark(r)+Example(r), "%!", r.Code)
		}
	}
	assert.ElementsMatch(t, constants(t, "words", "Code"), keys(remarks))
}

func TestSayingFindings(t *testing.T) {
	of := func(code audit.Code, values ...any) string {
		return Of(audit.Finding{Level: words.Warn, Code: code, Values: values})
	}
	assert.Equal(t, "One face can be seen, and nobody was asked. Cover it, allow it, or note who it is. (house rules)", of(audit.OpenFace, 1))
	assert.True(t, strings.HasPrefix(of(audit.OpenFace, 3), "3 faces can be seen"))
	assert.Equal(t, "2 people in this picture have not been asked for permission yet. (house rules)", of(audit.Unasked, 2))
	assert.Equal(t, "Soft on every screen: 300 pixels for 640. Widen the frame, or choose a smaller slot.", of(audit.Soft, 300, 640))
	assert.Equal(t, "A little soft on sharp screens: 1.3 pixels where 2 would be crisp.", of(audit.LittleSoft, 1.34))
	long := words.Remark{Level: words.Warn, Code: words.Link, Values: []any{"100 % | all", "dates"}}
	assert.Equal(t, "It leads to “100 % | all”, and its words do not say so. (WCAG F89, H30)", of(audit.Said, long), "what comes from elsewhere is said as it is")
	assert.Equal(t, "“dates: 100 % | all”", ExampleOf(audit.Finding{Code: audit.Said, Values: []any{long}}))
	assert.Equal(t, "81 characters; 80 is the most.", of(audit.Said, naming.Problem{Code: naming.TooLong, Values: []any{81, 80}}))
	assert.Empty(t, ExampleOf(audit.Finding{Code: audit.Said, Values: []any{naming.Problem{Code: naming.TooLong, Values: []any{81, 80}}}}))
	assert.Empty(t, ExampleOf(audit.Finding{Code: audit.Soft, Values: []any{1, 2}}))
	assert.Equal(t, "not-known", of("not-known"))
	house := rules.Default()
	slot := house.Slots[0]
	assert.Equal(t, "Use "+slot.Title, Fix(audit.OnPage{Mend: audit.Mend{Do: audit.SetSlot, Value: slot.ID}}, house))
	assert.Equal(t, "Show it 300 px wide", Fix(audit.OnPage{Mend: audit.Mend{Do: audit.SetWidth, Value: "300"}}, house))
	assert.Equal(t, "Remove the link", Fix(audit.OnPage{Mend: audit.Mend{Do: audit.DropLink, Value: "/a"}}, house))
}
