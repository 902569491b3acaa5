package page

import (
	"bytes"
	"fmt"
	"regexp"
	"strings"

	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/parser"
	"github.com/yuin/goldmark/text"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// A paragraph of another style has a comment in the line before it: <!-- lead -->. That is
// CommonMark (0.31, 4.6, the second kind of HTML block), and other readers pass over it.
var styleComment = regexp.MustCompile(`^<!-- (` + strings.Join(rules.TextStyles, "|") + `) -->\s*$`)

// styler gives paragraphs the class of their style, and takes the comments out.
type styler struct{}

func (styler) Transform(doc *ast.Document, reader text.Reader, _ parser.Context) {
	for n := doc.FirstChild(); n != nil; {
		next := n.NextSibling()
		if block, ok := n.(*ast.HTMLBlock); ok {
			style := styleComment.FindSubmatch(bytes.TrimSpace(block.Lines().Value(reader.Source())))
			if p, ok := next.(*ast.Paragraph); ok && style != nil {
				p.SetAttributeString("class", style[1])
			}
			doc.RemoveChild(doc, n)
		}
		n = next
	}
}

// How a note is marked beside its size: by a line in the colour of its letters, so that its
// contrast is that of all text.
const noteLook = "border-left:3px solid currentColor;padding-left:12px"

// textCSS writes the sizes of the house's text styles.
func textCSS(b *bytes.Buffer, r rules.Rules) {
	for _, style := range rules.TextStyles {
		size := r.TextSizes.Of(style)
		fmt.Fprintf(b, ".content p.%s { font-size: %dpx; }\n", style, size.Desktop)
		fmt.Fprintf(b, "@media (max-width: %dpx) { .content p.%s { font-size: %dpx; } }\n", r.Page.Breaks.Desktop-1, style, size.On(layout.Tablet))
		fmt.Fprintf(b, "@media (max-width: %dpx) { .content p.%s { font-size: %dpx; } }\n", r.Page.Breaks.Tablet-1, style, size.On(layout.Phone))
	}
	fmt.Fprintf(b, ".content p.note { %s; }\n", noteLook)
}

// textHTML is [TextHTML], with its styles inside where no stylesheet comes along: there a
// paragraph has the size of a desktop on all devices.
func (h *writer) textHTML(source string) string {
	made := TextHTML(source)
	if !h.Inline {
		return made
	}
	for _, style := range rules.TextStyles {
		css := fmt.Sprintf("font-size:%dpx", h.Rules.TextSizes.Of(style).Desktop)
		if style == rules.Note {
			css += ";" + noteLook
		}
		made = strings.ReplaceAll(made, `<p class="`+style+`">`, `<p style="`+css+`">`)
	}
	return made
}
