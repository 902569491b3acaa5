package page

// What has become of a block between two documents.
const (
	Added       = "added"
	TakenOff    = "taken off"
	Changed     = "changed"
	PictureOnly = "picture" // the block is the same, and its picture is not
)

// Change is what has become of one block, or of the title, which stands as a heading.
type Change struct {
	What   string // one of the above
	Block  Block
	Before Block // of a changed block
}

// Compare returns what has changed between two documents of a page, in the order in which it stands
// there now; what was taken off comes last.
func Compare(before, now Doc) []Change {
	var all []Change
	if before.Title != now.Title {
		title := func(t string) Block { return Block{Kind: Heading, Text: t} }
		all = append(all, Change{What: Changed, Block: title(now.Title), Before: title(before.Title)})
	}
	for _, b := range now.Blocks {
		old, ok := before.Block(b.ID)
		switch {
		case !ok:
			all = append(all, Change{What: Added, Block: b})
		case old.Mark() != b.Mark():
			all = append(all, Change{What: Changed, Block: b, Before: old})
		}
	}
	for _, b := range before.Blocks {
		if _, ok := now.Block(b.ID); !ok {
			all = append(all, Change{What: TakenOff, Block: b})
		}
	}
	return all
}
