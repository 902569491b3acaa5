package web

import "strings"

// keyLine is a line in the list of the keys of a screen.
type keyLine struct {
	Press []string // the keys, by the names that scripts give them; see js/keys.js
	Says  string   // what they do, in their order
}

// keyNames are keys whose names in scripts are not what is printed on them.
var keyNames = map[string]string{"ArrowUp": "↑", "ArrowDown": "↓", "ArrowLeft": "←", "ArrowRight": "→", "Escape": "Esc", "Digit": "1–9"}

// Show returns what is printed on the keys that are pressed together.
func (keyLine) Show(key string) []string {
	if key == "+" {
		return []string{key}
	}
	all := strings.Split(key, "+")
	for i, k := range all {
		if shown, ok := keyNames[k]; ok {
			all[i] = shown
		}
	}
	return all
}

// keys makes a line: press names keys, with spaces between them.
func keys(press, says string) keyLine { return keyLine{strings.Fields(press), says} }

// keysOf is the one list of the keys of each screen; "" has those of all. Scripts may take
// no other.
var keysOf = map[string][]keyLine{
	"": {
		keys("g", "then a letter: A Arrivals, B Bench, P Pages, L Live, F Findings, S Shelves, N Banners, R Ruler, H House rules"),
		keys("Escape", "close the menu or form around the focus"),
		keys("?", "this list"),
	},
	"arrivals": {
		keys("o", "pick files"),
		keys("t", "tick all, or none"),
		keys("w", "to the waiting pictures; Space ticks one"),
		keys("ArrowLeft ArrowRight ArrowUp ArrowDown", "there: to the next one that way"),
		keys("b", "send the ticked ones to the bench"),
	},
	"pages": {
		keys("/", "to the search"),
		keys("w", "to the first page"),
		keys("ArrowLeft ArrowRight ArrowUp ArrowDown", "there: to the next one that way"),
	},
	"shelves": {
		keys("/", "to the search"),
		keys("w", "to the first picture; Space ticks it"),
		keys("ArrowLeft ArrowRight ArrowUp ArrowDown", "there: to the next one that way"),
		keys("t", "tick all of this screen, or none"),
		keys("n", "name the ticked ones"),
		keys(", .", "screen before, screen after"),
	},
	"rules": {keys("Tab", "to the next number; a number is saved when you leave it")},
	"ruler": {
		keys("Tab", "to an edge; arrows move it by 1 px, with Shift by 10"),
		keys("c", "find columns"),
		keys("k", "keep the reading"),
		keys("x", "measure across, or up and down"),
		keys("+ = -", "larger, larger, smaller"),
		keys("Alt", "held: edges do not snap"),
	},
	"covers": {
		keys("/", "to the search"),
		keys("b", "blanks only, or all"),
	},
	"findings": {
		keys("l", "look through the site now"),
	},
	"houses": {
		keys("/", "to the search"),
		keys("n", "to the name of a new house"),
	},
	"former": {
		keys("d", "describe pictures"),
		keys("n", "name pictures"),
		keys("c", "what changes"),
		keys("b", "before and after"),
		keys("o", "carry pages over"),
	},
	"former-describe": {
		keys("Enter", "keep it, and go to the next picture"),
		keys("s", "skip this one"),
	},
	"former-compare": {keys(", .", "page before, page after"), keys("a", "compare all pages")},
	"banners": {
		keys("n", "to the title of a new banner"),
		keys(", .", "weeks before, weeks after"),
		keys("ArrowLeft ArrowRight", "move the end that has the focus by a day"),
		keys("PageUp PageDown", "by a week, earlier or later"),
		keys("Delete", "leave that end open"),
	},
	"banner": {
		keys("u r", "undo, redo (also Ctrl+Z, Ctrl+Shift+Z)"),
		keys("w", "ask why it does not show on another page"),
	},
	"albums": {keys("n", "to the title of a new album")},
	"album": {
		keys("ArrowLeft ArrowRight", "picture before, picture after"),
		keys("Alt+ArrowLeft Alt+ArrowRight", "move the picture that has the focus"),
		keys("c", "to its caption; Enter saves it and goes to the next"),
		keys("l", "make it the lead picture"),
		keys("Delete", "take it out of the album"),
		keys("d", "describe pictures one after the other"),
		keys("u r", "undo, redo (also Ctrl+Z, Ctrl+Shift+Z)"),
		keys("Escape", "back to the album"),
	},
	"widths": {keys("Escape", "back to the page")},
	"shared": {keys("f", "fetch again")},
	"page": {
		keys("i", "to the next gap; Enter opens it"),
		keys("ArrowUp ArrowDown Home End", "in the page: to the piece above, below, to the first, to the last; Tab leads through its tools"),
		keys("Delete", "remove the current block"),
		keys("u r", "undo, redo (also Ctrl+Z, Ctrl+Shift+Z)"),
		keys("w", "to the next text; Enter writes there: Ctrl+B strong, Ctrl+I slanted, Ctrl+K a link; Esc saves it"),
		keys("t h", "in an open gap: a text, a heading"),
		keys("Alt+ArrowUp Alt+ArrowDown", "move the current block"),
		keys("f", "to the next finding of the sign-off"),
		keys("p", "publish"),
		keys("3", "the page at three widths"),
		keys("Escape", "close the tray"),
	},
	"bench": {
		keys("u r Backspace", "undo, redo (also Ctrl+Z, Ctrl+Shift+Z), as it arrived"),
		keys("0 1 2 + -", "see the whole picture, the result size, 100 %, nearer, farther"),
		keys("Space", "held: the hand moves about; Ctrl with the wheel zooms"),
		keys("ArrowLeft ArrowRight ArrowUp ArrowDown", "move about in an enlarged picture"),
		keys("f", "select the frame: arrows then move it, Alt+arrows its right and lower edge, Ctrl+arrows its left and upper one, Shift makes steps of ten"),
		keys("w", "the whole picture; Shift held while drawing: a square"),
		keys("o x y", "draw an oval, a box, a free outline that hides"),
		keys("Enter", "while drawing an oval or a box: puts it in the middle; arrows move it, Alt+arrows size it, V copies it, Delete removes it"),
		keys("Enter Backspace", "while drawing an outline: arrows lead the cross, Enter sets a corner, Backspace takes it back, Enter twice closes it"),
		keys("Escape", "stop drawing"),
		keys("s Digit", "find faces, go to one; there C covers it, S softens it, A allows it"),
		keys("c", "select the focal point, which every crop keeps; arrows move it"),
		keys("t T m e", "turn right, turn left, mirror, make a line even"),
		keys("p", "held: peek beneath the veils"),
		keys("k", "compare the cut with the original"),
		keys("Enter Ctrl+Enter", "outside and inside a field: next unfinished picture, with these settings"),
		keys("n d", "to the name, to the description"),
		keys(", .", "picture before, picture after"),
	},
}
