package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a screen reader is given of each main screen stands in a text that was read and found
// good: roles, names, states and their order, as Chromium's accessibility tree has them. Whoever
// changes a screen reads the new text: MIVLET_READERS=1 go test ./e2e -run Readers writes it.
func TestWhatReadersAreGiven(t *testing.T) {
	h := startReading(t, "demo")
	show := leafing(t, browser(t), 1280, 800)
	for name, at := range map[string]string{"arrivals": "/arrivals", "bench": "/bench/8", "shelves": "/shelves", "pages": "/pages", "page": "/pages/1", "placing": "/pages/1/insert?after=a1&picture=5", "live": "/live", "rules": "/rules?part=slots", "ruler": "/ruler", "banners": "/banners", "album": "/albums/1", "welcome": "/welcome"} {
		p := show(h.app + at)
		calm(t, p)
		got := read(t, p)
		kept := filepath.Join("readers", name+".txt")
		if os.Getenv("MIVLET_READERS") != "" {
			require.NoError(t, os.MkdirAll("readers", 0o755))
			require.NoError(t, os.WriteFile(kept, []byte(got), 0o644))
			continue
		}
		want, err := os.ReadFile(kept)
		require.NoError(t, err)
		assert.Equal(t, string(want), got, "%s is read otherwise than it was", at)
	}
}

// changing is what differs from run to run: ports, times, how long ago something was, and how much of a
// calendar, which begins on a Monday, is covered.
var changing = []struct {
	what *regexp.Regexp
	as   string
}{
	{regexp.MustCompile(`127\.0\.0\.1:\d+`), "SITE"},
	{regexp.MustCompile(`\d{1,2} (Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec) 20\d\d(, \d\d:\d\d)?`), "DAY"},
	{regexp.MustCompile(`\b\d\d:\d\d\b`), "TIME"},
	{regexp.MustCompile(`( *graphics-symbol) "(?:\d+ run|nothing runs)"\n(?: *graphics-symbol "(?:\d+ run|nothing runs)"\n)*`), "$1 \"what runs\"\n"},
}

// read writes down what is read of a page: a line for each thing with its role, name and states.
func read(t *testing.T, p *rod.Page) string {
	t.Helper()
	tree, err := proto.AccessibilityGetFullAXTree{}.Call(p)
	require.NoError(t, err)
	nodes := map[proto.AccessibilityAXNodeID]*proto.AccessibilityAXNode{}
	for _, n := range tree.Nodes {
		nodes[n.NodeID] = n
	}
	var text strings.Builder
	var tell func(n *proto.AccessibilityAXNode, depth int)
	tell = func(n *proto.AccessibilityAXNode, depth int) {
		role, name := value(n.Role), value(n.Name)
		if !n.Ignored && !passed[role] && (role != "StaticText" || name != "") {
			fmt.Fprintf(&text, "%s%s%s%s\n", strings.Repeat("  ", depth), role, quoted(name), states(n))
			depth++
			if name != "" && leaves[role] {
				return // its name is all that is read of it
			}
		}
		for _, id := range n.ChildIDs {
			if child := nodes[id]; child != nil && !(value(child.Role) == "StaticText" && value(child.Name) == name && len(n.ChildIDs) == 1) {
				tell(child, depth)
			}
		}
	}
	tell(tree.Nodes[0], 0)
	out := text.String()
	for _, c := range changing {
		out = c.what.ReplaceAllString(out, c.as)
	}
	return out
}

// leaves are roles whose name is made of what is in them.
var leaves = map[string]bool{"StaticText": true, "image": true, "link": true, "button": true, "heading": true, "DisclosureTriangle": true, "term": true, "checkbox": true, "radio": true}

// passed are roles that nothing is read for.
var passed = map[string]bool{"none": true, "generic": true, "InlineTextBox": true, "LineBreak": true, "LabelText": true, "paragraph": true}

func value(v *proto.AccessibilityAXValue) string {
	if v == nil || v.Value.Nil() {
		return ""
	}
	return strings.Join(strings.Fields(v.Value.Str()), " ")
}

func quoted(name string) string {
	if name == "" {
		return ""
	}
	return ` "` + name + `"`
}

// states are those that are read after a name.
func states(n *proto.AccessibilityAXNode) string {
	var all []string
	for _, p := range n.Properties {
		v := p.Value.Value.String()
		switch string(p.Name) {
		case "checked", "pressed", "expanded", "disabled", "required", "invalid", "selected", "level", "live":
			if p.Name == "level" && value(n.Role) != "heading" {
				continue
			}
			if v != "false" && v != "" || string(p.Name) == "expanded" || string(p.Name) == "pressed" {
				all = append(all, string(p.Name)+"="+v)
			}
		}
	}
	if len(all) == 0 {
		return ""
	}
	return " [" + strings.Join(all, " ") + "]"
}
