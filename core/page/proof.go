package page

import (
	"bytes"
	"fmt"
	"html"

	"mivlet/core/rules"
)

// Proof writes a section of a pattern with a box for every slot that follows
// from one of its columns, and one that fills each column.
func Proof(b *bytes.Buffer, r rules.Rules, p rules.Pattern) {
	fmt.Fprintf(b, "<section class=\"band pattern-%s\">\n<div class=\"columns\">\n", p.ID)
	for i := range p.Shares {
		fmt.Fprintf(b, "<div class=\"column\" data-column=\"%d\">\n<div class=\"proof\" data-fill=\"%d\">column %d</div>\n", i, i, i+1)
		for _, s := range r.Slots {
			if s.Pattern == p.ID && s.Column == i {
				fmt.Fprintf(b, "<div class=\"proof slot-%s\" data-slot=\"%s\">%s</div>\n", s.ID, s.ID, html.EscapeString(s.Title))
			}
		}
		b.WriteString("</div>\n")
	}
	b.WriteString("</div>\n</section>\n")
}
