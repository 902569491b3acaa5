package carry

import (
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// table carries a table over: as words where it is a simple one, each row as columns where it only lays the page out,
// else as it came.
func (c *carrying) table(n *html.Node) {
	rows := rowsOf(n)
	if !heads(n) && laysOut(n, rows) {
		for _, row := range rows {
			c.beside(row)
		}
		return
	}
	c.words(n, c.written(n, rows))
}

// rowsOf are the cells of a table, row by row, without those of tables within it.
func rowsOf(n *html.Node) (rows [][]*html.Node) {
	for child := range n.ChildNodes() {
		switch child.DataAtom {
		case atom.Thead, atom.Tbody, atom.Tfoot:
			rows = append(rows, rowsOf(child)...)
		case atom.Tr:
			var cells []*html.Node
			for cell := range child.ChildNodes() {
				if cell.DataAtom == atom.Td || cell.DataAtom == atom.Th {
					cells = append(cells, cell)
				}
			}
			rows = append(rows, cells)
		}
	}
	return rows
}

// heads reports whether a table says what its rows or columns are: it holds figures then.
func heads(n *html.Node) bool {
	return first(n, atom.Th) != nil || first(n, atom.Caption) != nil || first(n, atom.Thead) != nil
}

// laysOut reports whether a table only puts things beside each other: its cells hold more than lines, or
// there is one row or one column.
func laysOut(n *html.Node, rows [][]*html.Node) bool {
	wide := 0
	for _, row := range rows {
		wide = max(wide, len(row))
		for _, cell := range row {
			if find(cell, func(n *html.Node) bool {
				switch n.DataAtom {
				case atom.Img, atom.Table, atom.P, atom.Ul, atom.Ol, atom.H1, atom.H2, atom.H3, atom.H4, atom.Div:
					return true
				}
				return false
			}) != nil {
				return true
			}
		}
	}
	return len(rows) <= 1 || wide <= 1 || attr(n, "role") == "presentation"
}

// written writes a table whose first row says what its columns are, and whose cells hold a line each; "" for others.
func (c *carrying) written(n *html.Node, rows [][]*html.Node) string {
	if len(rows) < 2 || first(n, atom.Caption) != nil {
		return ""
	}
	var b strings.Builder
	for i, row := range rows {
		if len(row) != len(rows[0]) || len(row) == 0 {
			return ""
		}
		for _, cell := range row {
			if has(cell, "colspan") || has(cell, "rowspan") || i == 0 && cell.DataAtom != atom.Th {
				return ""
			}
			text := ""
			for child := range cell.ChildNodes() {
				if !line(child) {
					return ""
				}
				text += inline(c, child)
			}
			if strings.Contains(text, hardBreak) {
				return ""
			}
			b.WriteString("| " + tidy(text) + " ")
		}
		b.WriteString("|\n")
		if i == 0 {
			b.WriteString(strings.Repeat("| --- ", len(row)) + "|\n")
		}
	}
	return strings.TrimSuffix(b.String(), "\n")
}
