package sentences

import (
	"go/ast"
	"go/parser"
	"go/token"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/audit"
	"mivlet/core/rules"
	"mivlet/core/words"
)

// Every code of core has its sentence, and every fix its button.
func TestEnglishIsComplete(t *testing.T) {
	codes, fixes := 0, 0
	for _, file := range []string{"audit.go", "page.go", "mend.go"} {
		parsed, err := parser.ParseFile(token.NewFileSet(), "../core/audit/"+file, nil, 0)
		require.NoError(t, err)
		ast.Inspect(parsed, func(n ast.Node) bool {
			v, ok := n.(*ast.ValueSpec)
			if !ok || len(v.Values) != 1 {
				return true
			}
			lit, ok := v.Values[0].(*ast.BasicLit)
			kind, named := v.Type.(*ast.Ident)
			if !ok || !named {
				return true
			}
			value, err := strconv.Unquote(lit.Value)
			require.NoError(t, err)
			switch kind.Name {
			case "Code":
				codes++
				assert.NotEmpty(t, english.findings[audit.Code(value)], value)
			case "Mending":
				fixes++
				assert.NotEmpty(t, english.fixes[audit.Mending(value)], value)
			}
			return true
		})
	}
	assert.Equal(t, len(english.findings), codes, "and there is no sentence for nothing")
	assert.Equal(t, len(english.fixes), fixes)
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
	assert.Equal(t, "100 % sure | twice", of(audit.Said, "100 % sure | twice"), "what comes from elsewhere is said as it is")
	assert.Equal(t, "not-known", of("not-known"))
	house := rules.Default()
	slot := house.Slots[0]
	assert.Equal(t, "Use "+slot.Title, Fix(audit.OnPage{Mend: audit.Mend{Do: audit.SetSlot, Value: slot.ID}}, house))
	assert.Equal(t, "Show it 300 px wide", Fix(audit.OnPage{Mend: audit.Mend{Do: audit.SetWidth, Value: "300"}}, house))
	assert.Equal(t, "Remove the link", Fix(audit.OnPage{Mend: audit.Mend{Do: audit.DropLink, Value: "/a"}}, house))
}
