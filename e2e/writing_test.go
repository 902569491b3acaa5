package e2e

import (
	"fmt"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"
	"unicode"

	"github.com/PuerkitoBio/goquery"
	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"mivlet/core/page"
)

// bridge runs a function over the editor's own modules, in the browser.
const bridge = `async (...args) => {
	const at = new URL('.', document.querySelector('script[src*="js/write.js"]').src);
	const [{ schema }, { read, write, readCaption, writeCaption }, { tidy, tidyCaption }, { clean }] = await Promise.all(['schema', 'commonmark', 'tidy', 'paste'].map((m) => import(at + 'words/' + m + '.js')));
	const { DOMParser, DOMSerializer } = await import(at + '../vendor/prosemirror.min.js');
	const html = (doc) => {
		const box = document.createElement('div');
		box.append(DOMSerializer.fromSchema(schema).serializeFragment(doc.content));
		return box.innerHTML;
	};
	return (%s)(...args);
}`

func inBridge(p *rod.Page, do string, args ...any) *rod.EvalOptions {
	return rod.Eval(strings.Replace(bridge, "%s", do, 1), args...).ByPromise()
}

// Any document that the editor can hold goes into CommonMark and out again unchanged, and says
// the same there to the reader that makes live pages (goldmark, another implementation of the
// standard than the editor's).
func TestWordsGoInAndOutUnchanged(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 800, 1)
	random, err := os.ReadFile("words/random.js")
	require.NoError(t, err)
	res, err := p.Evaluate(inBridge(p, `(many, shown) => {
		const make = (`+strings.TrimRight(string(random), ";\n")+`)(schema, 20261127), bad = [], some = [];
		for (let i = 0; i < many; i++) {
			const doc = make();
			doc.check();
			const wanted = tidy(doc), text = write(doc), back = read(text);
			wanted.check();
			if (!back || !back.eq(wanted) || write(back) !== text || !tidy(wanted).eq(wanted)) bad.push(text);
			if (i < shown) some.push([text, html(wanted)]);
		}
		return { bad, some };
	}`, 1500, 400))
	require.NoError(t, err)
	for _, text := range res.Value.Get("bad").Arr() {
		t.Errorf("comes back as something else:\n%s", text.Str())
	}
	pairs := res.Value.Get("some").Arr()
	require.Len(t, pairs, 400)
	for _, pair := range pairs {
		text := pair.Get("0").Str()
		if text == "" {
			continue // an empty block has no paragraph at all
		}
		if want, got := plainly(t, pair.Get("1").Str()), plainly(t, page.TextHTML(text)); want != got {
			from := 0
			for from < min(len(want), len(got)) && want[from] == got[from] {
				from++
			}
			show := func(all string) string { return all[max(0, from-60):min(len(all), from+60)] }
			t.Errorf("says something else on a page:\n%s\neditor: …%s\npage:   …%s", text, show(want), show(got))
		}
	}
}

// plainly is what HTML says, however it is written: each block, and each letter with the marks
// that it has, in whatever order they lie in each other. Spaces are not looked at, nor the parts
// of tables, nor the paragraphs of items, which lists without room between them leave out.
func plainly(t *testing.T, source string) string {
	t.Helper()
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(source))
	require.NoError(t, err)
	var out strings.Builder
	var walk func(n *html.Node, marks []string)
	walk = func(n *html.Node, marks []string) {
		if n.Type == html.TextNode {
			for _, r := range n.Data {
				if !unicode.IsSpace(r) {
					fmt.Fprintf(&out, "%s%c", strings.Join(marks, ""), r)
				}
			}
			return
		}
		within := marks
		switch n.Data {
		case "strong", "em":
			within = append(slices.Clone(marks), n.Data[:1])
		case "a":
			within = append(slices.Clone(marks), "("+goquery.NewDocumentFromNode(n).AttrOr("href", "")+")")
		case "thead", "tbody", "html", "head", "body":
		case "p":
			if n.Parent.Data != "li" {
				out.WriteString("<p " + goquery.NewDocumentFromNode(n).AttrOr("class", "") + ">")
			}
		default:
			out.WriteString("<" + n.Data + " " + goquery.NewDocumentFromNode(n).AttrOr("start", "") + ">")
			defer out.WriteString("</" + n.Data + ">")
		}
		slices.Sort(within)
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			walk(c, within)
		}
	}
	for _, n := range doc.Nodes {
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			walk(c, nil)
		}
	}
	return out.String()
}

// What words cannot hold opens as text, and stays as it is.
func TestWhatWordsCannotHold(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 800, 1)
	for text, held := range map[string]bool{
		"Plain *words*, **strong**, [there](/a).\n\n- a\n- b\n\n> q\n\n| a | b |\n| --- | --: |\n| 1 | 2 |": true,
		"":                                   true,
		"<!-- lead -->\nAn opening.":         true,
		"Some <u>HTML</u> within.":           false,
		"<div>A block of it.</div>":          false,
		"![a picture](a.jpg)":                false,
		"`code`":                             false,
		"    indented code":                  false,
		"[a](/b \"with a title\")":           false,
		"<!-- unknown -->\nA paragraph.":     false,
		"<!-- lead -->\n\n- a list":          false,
		"[by reference][1]\n\n[1]: /touring": true, // it becomes a link like any other
	} {
		res, err := p.Evaluate(inBridge(p, `(text) => read(text) !== null`, text))
		require.NoError(t, err)
		assert.Equal(t, held, res.Value.Bool(), text)
	}
	writeBlock(t, p, 0, "")
	hit(t, p, ".words-bar button", "As text")
	waitFor(t, p, `document.querySelector('.write textarea')?.hidden === false && !document.querySelector('.ProseMirror')`)
	p.MustElement(".write textarea").MustInput("Some <u>HTML</u>.")
	keepBlock(t, p)
	waitFor(t, p, `!document.querySelector('.write')`)
	calm(t, p)
	p.MustEval(`() => localStorage.removeItem('mivlet-write-as-text')`)
	focus(t, p, ".words [data-write]")
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitText(t, p, ".write-help", "can only be written as text")
	assert.Equal(t, "Some <u>HTML</u>.", p.MustElement(".write textarea").MustProperty("value").Str())
}

// What a word processor and an e-mail put on the clipboard (as they write it, memory) comes in
// as headings, lists, links and tables, and nothing else.
func TestPastedTextIsClean(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 800, 1)
	for html, want := range map[string]string{
		`<html><head><style>p.MsoNormal{color:red}</style></head><body><!--StartFragment--><h1 style="color:#2F5496">A title</h1><p class=MsoNormal style="margin:0"><b><span style="font-size:14pt">Strong</span></b> and <i>slanted</i><o:p></o:p></p><!--EndFragment--></body></html>`:            "## A title\n\n**Strong** and _slanted_",
		`<p class=MsoListParagraphCxSpFirst style="mso-list:l0 level1 lfo1"><span style="mso-list:Ignore">·<span>&nbsp;&nbsp; </span></span>Life jackets</p><p class=MsoListParagraphCxSpLast style="mso-list:l0 level1 lfo1"><span style="mso-list:Ignore">·<span>&nbsp; </span></span>Paddles</p>`: "- Life jackets\n- Paddles",
		`<b style="font-weight:normal" id="docs-internal-guid-1"><p><span style="font-weight:700">Bold</span><span style="font-style:italic"> it</span></p></b>`:                                                                                                                                     "**Bold** _it_",
		`<table><tr><td><p>Day</p></td><td><p>Time</p></td></tr><tr><td colspan="1"><div>Sat</div></td><td>10<br>12</td></tr></table>`:                                                                                                                                                               "| Day | Time |\n| --- | --- |\n| Sat | 10 12 |",
		`<p>See <a href="https://example.org/a">here</a>, not <a href="javascript:alert(1)">there</a> <img src="x" onerror="alert(1)"></p><script>alert(1)</script>`:                                                                                                                                 "See [here](https://example.org/a), not there",
		`<ul><li>a<ul><li>b</li></ul></li><li><p>c</p></li></ul><blockquote>said</blockquote>`:                                                                                                                                                                                                       "- a\n  - b\n- c\n\n> said",
	} {
		res, err := p.Evaluate(inBridge(p, `(html) => {
			const box = document.createElement('div');
			box.innerHTML = clean(html);
			return write(DOMParser.fromSchema(schema).parse(box));
		}`, html))
		require.NoError(t, err)
		assert.Equal(t, strings.ReplaceAll(want, "\u00a0", " "), res.Value.Str(), html)
	}
	// And through the clipboard's own event, into a block that is being written.
	writeBlock(t, p, 0, "Before")
	p.MustEval(`() => {
		const data = new DataTransfer();
		data.setData('text/html', '<h3>Pasted</h3><p style="color:red">red <u>words</u></p>');
		data.setData('text/plain', 'Pasted');
		document.querySelector('.ProseMirror').dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
	}`)
	keepBlock(t, p)
	waitText(t, p, ".words-text h3, .words-text p", "red words")
	assert.NotContains(t, p.MustElement(".words-text").MustHTML(), "color")
}

// The whole of writing by hand and by keys: a click begins where it hits; strong, a list that
// two Enters leave, a link to a page that is found by its title, a table, a style; what visitors
// get is what was written.
func TestWritingOnThePage(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 800, 1)
	calm(t, p)
	rect := p.MustElement(".words-text p").MustEval(`() => { const r = document.createRange(), text = this.firstChild, at = text.data.indexOf('juniors'); r.setStart(text, at); r.setEnd(text, at + 1); const b = r.getBoundingClientRect(); return { x: b.x + 1, y: b.y + b.height / 2 }; }`)
	p.Mouse.MustMoveTo(rect.Get("x").Num(), rect.Get("y").Num())
	p.Mouse.MustClick("left")
	waitFor(t, p, writing)
	calm(t, p)
	require.NoError(t, p.InsertText("young "))
	waitFor(t, p, `document.querySelector('.write textarea').value.includes('the young juniors')`)

	keys := func(all ...input.Key) { require.NoError(t, p.Keyboard.Type(all...)) }
	with := func(key input.Key) {
		require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type(key).Release(input.ControlLeft).Do())
	}
	toEnd(p)
	keys(input.Enter)
	require.NoError(t, p.InsertText("Bring "))
	with(input.KeyB)
	require.NoError(t, p.InsertText("warm socks"))
	with(input.KeyB)
	require.NoError(t, p.InsertText(" and"))
	keys(input.Enter)
	require.NoError(t, p.InsertText("-"))
	keys(input.Space)
	require.NoError(t, p.InsertText("a jumper"))
	keys(input.Enter)
	require.NoError(t, p.InsertText("a towel"))
	keys(input.Enter, input.Enter)
	require.NoError(t, p.InsertText("See "))
	with(input.KeyK)
	waitText(t, p, ".words-link .found button", "Ropes|touring|juniors|boatshed")
	title := p.MustElement(".words-link .found button").MustAttribute("data-title")
	require.NotNil(t, title)
	require.NoError(t, p.InsertText(*title))
	waitFor(t, p, `document.querySelectorAll('.words-link .found button').length >= 1`)
	keys(input.ArrowDown, input.Enter)
	waitFor(t, p, `document.querySelector('.words-link').hidden && document.activeElement.matches('.ProseMirror')`)
	require.NoError(t, p.InsertText("."))
	keys(input.Enter)
	hit(t, p, ".words-bar button", "^Table$")
	waitFor(t, p, `!!document.querySelector('.ProseMirror table')`)
	text := p.MustElement(".write textarea").MustProperty("value").Str()
	assert.Regexp(t, `(?s)the young juniors.*\n\nBring \*\*warm socks\*\* and\n\n- a jumper\n- a towel\n\nSee \[`+regexp.QuoteMeta(*title)+`\]\(/[^)]*\)`, text)

	// The first paragraph becomes a lead.
	p.MustElement(".ProseMirror > p").MustClick()
	p.MustElement(".words-bar select").MustSelect("Lead: an opening text")
	waitFor(t, p, `document.querySelector('.write textarea').value.startsWith('<!-- lead -->\n')`)
	keepBlock(t, p)
	waitFor(t, p, `!document.querySelector('.write') && !!document.querySelector('.words-text p.lead')`)
	assert.Equal(t, "22px", p.MustEval(`() => getComputedStyle(document.querySelector('.words-text p.lead')).fontSize`).Str())
	calm(t, p)
	hit(t, p, ".panel .primary", "Publish")
	waitText(t, p, ".report", "all is well")
	site := p.MustElement(".report a[href^='http'], .file a[href^='http']").MustProperty("href").Str()
	live := body(t, site)
	assert.Contains(t, live, `<p class="lead">On a clear Saturday`)
	assert.Contains(t, live, "<strong>warm socks</strong>")
	assert.Contains(t, live, ">"+*title+"</a>.")
}

// What is typed and says nothing, as a space at the end of a line, is no draft; one that was
// begun is picked up, and is the same when it is sent.
func TestADraftIsWhatWasWritten(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 800, 1)
	hit(t, p, ".words-text p")
	waitFor(t, p, writing)
	calm(t, p)
	before := p.MustElement(".write textarea").MustProperty("value").Str()
	toEnd(p)
	require.NoError(t, p.InsertText(" "))
	p.MustEval(`() => document.dispatchEvent(new CustomEvent('htmx:afterSettle'))`)
	assert.Equal(t, before, p.MustElement(".write textarea").MustProperty("value").Str())
	assert.False(t, p.MustEval(`() => Object.keys(localStorage).some((k) => k.startsWith('mivlet-words-'))`).Bool(), "nothing is kept of it")
	require.NoError(t, p.InsertText("Bring socks."))
	waitFor(t, p, `document.querySelector('.write textarea').value.endsWith('Bring socks.')`)
	p.MustEval(`() => document.dispatchEvent(new CustomEvent('htmx:afterSettle'))`)
	p.MustEval(`() => { for (const form of document.querySelectorAll('.write')) form.remove(); }`)
	p.MustReload().MustWaitLoad()
	calm(t, p)
	hit(t, p, ".words-text p")
	waitFor(t, p, `document.querySelector('.ProseMirror')?.innerText.includes('Bring socks.')`)
	keepBlock(t, p)
	waitFor(t, p, `!document.querySelector('.write') && document.querySelector('.words-text').innerText.includes('so. Bring socks.')`)
}

// toEnd puts the hand to the end of the first paragraph that is written.
func toEnd(p *rod.Page) {
	p.MustEval(`() => new Promise((done) => {
		document.addEventListener('selectionchange', () => requestAnimationFrame(done), { once: true });
		const { lastChild } = document.querySelector('.ProseMirror p');
		getSelection().collapse(lastChild, lastChild.length);
	})`)
}

// Whoever clicks elsewhere without having written leaves the words as they were.
func TestLeavingUnchanged(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 800, 1)
	before := p.MustElement("#page-screen").MustAttribute("data-version")
	hit(t, p, ".words-text p")
	waitFor(t, p, writing)
	calm(t, p)
	p.Mouse.MustMoveTo(1000, 600)
	p.Mouse.MustClick("left")
	waitFor(t, p, `!document.querySelector('.write')`)
	assert.Equal(t, *before, *p.MustElement("#page-screen").MustAttribute("data-version"))
	// Escape gives the hand back to the block.
	hit(t, p, ".words-text p")
	waitFor(t, p, writing)
	require.NoError(t, p.Keyboard.Type(input.Escape))
	waitFor(t, p, `!document.querySelector('.write') && document.activeElement.matches('.words-text [data-write]')`)
}

// The tools of a block are hit where they are seen, on every screen: nothing lies over them.
func TestBlockToolsAreHit(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	for _, width := range []int{390, 768, 960, 1100, 1280} {
		p := open(t, b, h.app+"/pages/7", width, 800, 1)
		calm(t, p)
		for _, words := range p.MustElements(".words:has([data-write])") {
			words.MustScrollIntoView().MustHover()
			missed := words.MustEval(`() => {
				this.scrollIntoView({ block: 'center' });
				return [...this.querySelectorAll('.block-acts :is(button, a)')].filter((b) => {
					const { left, top, width, height } = b.getBoundingClientRect();
					return ![0.15, 0.5, 0.85].every((part) => b.contains(document.elementFromPoint(left + width / 2, top + height * part)));
				}).map((b) => b.textContent).join(', ');
			}`).Str()
			assert.Empty(t, missed, "at %d px", width)
		}
		p.MustClose()
	}
}

// What a gap can take is drawn with what a picture needs there; a place that waits says the same.
func TestWhatAGapCanTake(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/7", 1280, 800, 1)
	hit(t, p, `.gap[data-gap="0"]`)
	waitText(t, p, ".drawn-piece.for-pictures", `^\s*Picture\s*640 wide, 1280 for sharp screens; about 300 high keeps text in view`)
	hit(t, p, ".drawn-piece", `^\s*Picture`)
	waitText(t, p, ".hole-text", "640 wide, 1280 for sharp screens")
	calm(t, p)
	// In a column of a band it is as wide as the column, which the dimension line of a picture beside it says, too.
	gap := p.MustElement(`.column .gap`)
	wide := gap.MustEval(`() => Math.round(this.closest('.column').getBoundingClientRect().width)`).Int()
	require.NoError(t, strike(gap))
	waitText(t, p, ".drawn-piece.for-pictures", fmt.Sprintf(`Picture\s*%d wide`, wide))
}
