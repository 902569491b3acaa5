package carry_test

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html/charset"

	"mivlet/core/carry"
	"mivlet/core/page"
	"mivlet/demo/tenyears"
)

// told is a block in one line.
func told(b carry.Block) string {
	switch b.Kind {
	case carry.Heading:
		return fmt.Sprintf("h%d %s", b.Level, b.Text)
	case carry.Picture:
		return strings.TrimSpace(fmt.Sprintf("picture %s %q %s", b.Address, b.Alt, b.Text))
	case carry.Line:
		return "line"
	}
	if b.Kind == carry.Band {
		return fmt.Sprintf("band %.0f", b.Shares)
	}
	return fmt.Sprintf("%s %s", b.Kind, b.Text)
}

func read(t *testing.T, source string) (title string, blocks []string) {
	t.Helper()
	p, err := carry.Read([]byte(source), carry.Options{})
	require.NoError(t, err)
	for _, b := range p.Blocks {
		line := told(b)
		if b.Column > 0 {
			line = fmt.Sprintf("%d: %s", b.Column, line)
		}
		blocks = append(blocks, line)
	}
	return p.Title, blocks
}

func TestWhatAPageBecomes(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct {
		source, title string
		want          []string
	}{
		"headings, words, pictures": {`<title>Club</title><nav><a href=/>Home</a></nav><main><h1>Summer <i>camp</i></h1><p>We were <b>forty</b>.<h3>Boats</h3><img src=a.jpg alt="Two boats"><p>End.</main><footer>1998</footer>`,
			"Summer camp", []string{`words We were **forty**.`, `h3 Boats`, `picture a.jpg "Two boats"`, `words End.`}},
		"no main part and no heading": {`<title> The  club </title><body bgcolor=white><font size=2>Hello<br><br>there<hr>Bye</font>`,
			"The club", []string{`words Hello`, `words there`, `line`, `words Bye`}},
		"breaks within a paragraph": {`<p>One<br>two<br>\n`, "", []string{"words One\\\ntwo\\\n\\\\n"}},
		"signs that mean something": {`<p># no heading</p><p>1. no list</p><p>*not* _so_ [here](x) &lt;b&gt; &amp;amp; a|b {c} ` + "`d`" + ` ~~e~~</p><p>- no</p><p>+ no</p><p>=== no</p><p>3) no</p><p>!</p>`, "",
			[]string{`words \# no heading`, `words 1\. no list`, `words \*not\* \_so\_ \[here\](x) \<b\> \&amp; a\|b \{c\} ` + "\\`d\\`" + ` \~\~e\~\~`, `words \- no`, `words \+ no`, `words ==\= no`, `words 3\) no`, `words \!`}},
		"links":                                 {`<p>See <a href="b c.html">the <em>other</em> page </a>and <a name=x>this</a>.`, "", []string{`words See [the *other* page](<b c.html>) and this.`}},
		"a link around a picture":               {`<p>Look <a href=big.jpg><img src=small.jpg width=300 alt=Pier></a> here`, "", []string{`words Look`, `picture small.jpg "Pier"`, `words here`}},
		"lists":                                 {`<ul><li>One<li>Two <b>bold</b><ol><li>in<li>it</ol><li><p>Three</ul>`, "", []string{"words - One\n- Two **bold**\n  1. in\n  2. it\n- Three"}},
		"pictures in a list":                    {`<ul><li>One <img src=a.jpg alt=A><li>Two</ul>`, "", []string{"words - One\n- Two", `picture a.jpg "A"`}},
		"a list of paragraphs stays":            {`<ul><li><p>One<p>more</ul>`, "", []string{"html <ul><li><p>One</p><p>more</p></li></ul>"}},
		"quotes":                                {`<blockquote><p>Nobody fell in.<p>Somebody got out.</blockquote>`, "", []string{"words > Nobody fell in.\n>\n> Somebody got out."}},
		"a table of figures":                    {`<table><tr><th>Boat<th>Seats<tr><td>Red|blue<td>2</table>`, "", []string{"words | Boat | Seats |\n| --- | --- |\n| Red\\|blue | 2 |"}},
		"a table that spans stays":              {`<table><tr><th colspan=2>Boats<tr><td>Red<td>2</table>`, "", []string{"html <table><tbody><tr><th colspan=\"2\">Boats</th></tr><tr><td>Red</td><td>2</td></tr></tbody></table>"}},
		"a table that lays out":                 {`<table width=600><tr><td><p>Left<td><img src=a.jpg alt=A><br>Right</table>`, "", []string{`band [50 50]`, `words Left`, `1: picture a.jpg "A"`, `1: words Right`}},
		"figures":                               {`<figure><img src=a.jpg alt="Pier"><figcaption>The pier in <i>May</i></figcaption></figure><figure><img src=b.jpg alt=B><img src=c.jpg alt=C><figcaption>Two</figcaption></figure>`, "", []string{`picture a.jpg "Pier" The pier in May`, `picture b.jpg "B"`, `picture c.jpg "C"`, `words Two`}},
		"what only fills":                       {`<p><img src=dot.gif width=1 height=20 alt=""><img src=ball.gif width=12 alt="">Word<img src=small.gif width=20 alt="Flag">`, "", []string{`words Word`, `picture small.gif "Flag"`}},
		"what a script fetches later":           {`<img src="data:image/gif;base64,R0lGOD" data-src="real.jpg" alt="Pier"><img src="data:image/png;base64,AA" alt="Only inside">`, "", []string{`picture real.jpg "Pier"`, `words Only inside`}},
		"definitions, programs and films stay":  {`<dl><dt>A<dd>B</dl><pre>x  y</pre><video src=a.mp4></video>`, "", []string{`html <dl><dt>A</dt><dd>B</dd></dl>`, `html <pre>x  y</pre>`, `html <video src="a.mp4"></video>`}},
		"forms and scripts go":                  {`<form>Name <input name=a></form><script>x()</script><p>Stay`, "", []string{`words Stay`}},
		"emphasis that cannot be written stays": {`<p>a<b>(b)</b>c</p>`, "", []string{`html <p>a<b>(b)</b>c</p>`}},
		"nothing":                               {``, "", nil},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			title, got := read(t, c.source)
			assert.Equal(t, c.title, title)
			assert.Equal(t, c.want, got)
		})
	}
}

// Links lead where whoever carries a page over says.
func TestLinksLeadWhereTheyAreToldTo(t *testing.T) {
	t.Parallel()
	p, err := carry.Read([]byte(`<p><a href="a.html">A</a> and <a href="b.html">B</a>`), carry.Options{Link: func(address string) string {
		return map[string]string{"a.html": "/juniors/a"}[address]
	}})
	require.NoError(t, err)
	assert.Equal(t, `[A](</juniors/a>) and B`, p.Blocks[0].Text)
}

// The encoding is the one that the page says.
func TestEncodings(t *testing.T) {
	t.Parallel()
	_, blocks := read(t, "<meta charset=windows-1252><p>Zo\xeb \x80 5")
	assert.Equal(t, []string{"words Zoë € 5"}, blocks)
	_, blocks = read(t, "<p>Zoë")
	assert.Equal(t, []string{"words Zoë"}, blocks)
}

// wordsOf are the words of HTML, in order.
func wordsOf(t *testing.T, source string) []string {
	t.Helper()
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(source))
	require.NoError(t, err)
	doc.Find("script, style, noscript, nav, footer, form, head, template, button, input, select, textarea, [role=navigation]").Remove()
	doc.Find("body *").Each(func(_ int, s *goquery.Selection) {
		if !slices.Contains([]string{"a", "abbr", "b", "i", "em", "strong", "span", "font", "tt", "code", "u", "small", "big", "sub", "sup", "cite", "kbd", "samp", "var", "q", "s", "strike", "nobr"}, goquery.NodeName(s)) {
			s.BeforeHtml(" ")
			s.AfterHtml(" ")
			s.PrependHtml(" ")
		}
	})
	return strings.Fields(doc.Text())
}

// keepsAll asserts that every word of a page is in what it becomes, in the same order, and every picture.
func keepsAll(t *testing.T, name string, data []byte) (words, kept int) {
	t.Helper()
	p, err := carry.Read(data, carry.Options{})
	require.NoError(t, err, name)
	var got strings.Builder
	pictures := slices.Clone(p.Left)
	for _, b := range p.Blocks {
		switch b.Kind {
		case carry.Heading:
			got.WriteString(" " + b.Text + " ")
		case carry.Words:
			kept++
			got.WriteString(" " + strings.Join(wordsOf(t, page.TextHTML(b.Text)), " ") + " ")
		case carry.HTML:
			got.WriteString(" " + strings.Join(wordsOf(t, b.Text), " ") + " ")
		case carry.Picture:
			pictures = append(pictures, b.Address)
			got.WriteString(" " + b.Text + " ")
		}
	}
	decoded, err := charset.NewReader(bytes.NewReader(append(bytes.Clone(data), '\n')), "text/html")
	require.NoError(t, err)
	whole, err := goquery.NewDocumentFromReader(decoded)
	require.NoError(t, err)
	var all []string
	whole.Find("img").Each(func(_ int, s *goquery.Selection) {
		if at := strings.TrimSpace(s.AttrOr("src", "")); at != "" && s.Closest("nav, footer, form, noscript, [role=navigation]").Length() == 0 {
			all = append(all, at)
		}
	})
	slices.Sort(all)
	slices.Sort(pictures)
	assert.Equal(t, all, pictures, "%s: its pictures", name)
	source, err := whole.Find("body").Html()
	require.NoError(t, err)
	want, have := wordsOf(t, source), strings.Fields(got.String())
	if title := strings.Fields(p.Title); len(want) > len(have) { // the first heading is the title
		for i := range want {
			if i+len(title) <= len(want) && slices.Equal(want[i:i+len(title)], title) {
				want = slices.Delete(slices.Clone(want), i, i+len(title))
				break
			}
		}
	}
	// Letter by letter: whether a picture parts two words follows from where it stood.
	all1, all2 := strings.Join(want, ""), strings.Join(have, "")
	at := 0
	for at < min(len(all1), len(all2)) && all1[at] == all2[at] {
		at++
	}
	assert.True(t, all1 == all2, "%s reads differently: %q, and not %q", name, all2[max(0, min(at-20, len(all2))):min(at+40, len(all2))], all1[max(0, at-20):min(at+40, len(all1))])
	return len(want), kept
}

// Of pages that nobody here wrote, no word and no picture is lost, and most of them becomes words.
func TestNothingOfOldPagesIsLost(t *testing.T) {
	t.Parallel()
	for dir, least := range map[string][2]int{"/usr/share/doc/xfig/html": {10_000, 300}, "/usr/share/doc/imagemagick-6-common/html/www": {1500, 40}} { // words, and blocks of them
		pages, err := filepath.Glob(dir + "/*.html")
		require.NoError(t, err)
		require.Greater(t, len(pages), 20)
		words, kept := 0, 0
		for _, at := range pages {
			data, err := os.ReadFile(at)
			require.NoError(t, err)
			if bytes.Contains(bytes.ToLower(data), []byte("<frameset")) {
				continue
			}
			w, k := keepsAll(t, at, data)
			words, kept = words+w, kept+k
		}
		assert.Greater(t, words, least[0])
		assert.Greater(t, kept, least[1])
	}
	files := map[string][]byte{}
	_, err := tenyears.Make(30, 80, func(at string, data []byte) error {
		files[at] = bytes.Clone(data)
		return nil
	})
	require.NoError(t, err)
	for at, data := range files {
		if strings.HasSuffix(at, ".html") {
			keepsAll(t, at, data)
		}
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte(`<h1>A</h1><p>b <b>c</b><ul><li>d</ul><table><tr><td>e<td><img src=f></table>`))
	f.Fuzz(func(t *testing.T, data []byte) {
		p, err := carry.Read(data, carry.Options{})
		if err != nil {
			return
		}
		for _, b := range p.Blocks {
			if b.Kind == carry.Heading && (b.Level < 2 || b.Level > 4 || b.Text == "") || b.Kind == carry.Picture && b.Address == "" {
				t.Errorf("%+v", b)
			}
		}
	})
}

// What stands beside each other on a page is carried over as columns, as far as the page itself says so.
func TestColumns(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct {
		source string
		want   []string
	}{
		"a table that lays out": {`<p>Before<table><tr><td width="30%"><img src=a.jpg><td width="70%"><p>Words<tr><td><p>Left<td>&nbsp;<tr><td colspan=2><h2>Wide</h2></table><p>Behind`,
			[]string{"words Before", "band [30 70]", `picture a.jpg ""`, "1: words Words", "band [100]", "words Left", "h2 Wide", "words Behind"}},
		"two rows of three": {`<table><tr><td><p>a<td><p>b<td><p>c<tr><td><p>d<td><p>e<td><p>f</table>`,
			[]string{"band [33 33 33]", "words a", "1: words b", "2: words c", "band [33 33 33]", "words d", "1: words e", "2: words f"}},
		"classes": {`<div class="row"><div class="col-md-4"><p>a</p></div> <!-- x --> <div class="col-md-8"><p>b</p><h3>c</h3></div></div><p>d`,
			[]string{"band [33 67]", "words a", "1: words b", "1: h3 c", "band [100]", "words d"}},
		"styles": {`<div style="display: flex"><section><p>a</section><section style="width:10em"><p>b</section></div>`, []string{"band [50 50]", "words a", "1: words b"}},
		"floats": {`<div><div style="float:left;width:200px">a</div><div style="float:right; width:600px">b</div></div>`, []string{"band [25 75]", "words a", "1: words b"}},
		"within columns": {`<div class=row><div class=col><table><tr><td><p>a<td><p>b</table></div><div class=col>c</div></div>`,
			[]string{"band [50 50]", "words a", "words b", "1: words c"}},
		"one alone":               {`<div class=row><div class=col><p>a</div></div>`, []string{"words a"}},
		"five":                    {`<div style="display:grid"><p>a<p>b<p>c<p>d<p>e</div>`, []string{"words a", "words b", "words c", "words d", "words e"}},
		"one below the other":     {`<div style="display:flex;flex-direction:column"><p>a<p>b</div>`, []string{"words a", "words b"}},
		"words among them":        {`<div class=row>Look<div class=col>a</div><div class=col>b</div></div>`, []string{"words Look", "words a", "words b"}},
		"a heading among them":    {`<div style="display:flex"><h2>Boats</h2><p>a</p></div>`, []string{"h2 Boats", "words a"}},
		"navigation beside words": {`<div style="display:flex"><nav>Home</nav><div><p>a</div></div>`, []string{"words a"}},
		"classes of other things": {`<div class="arrow"><div class="collapsed">a</div><div class="colour">b</div></div>`, []string{"words a", "words b"}},
	} {
		_, got := read(t, "<body>"+c.source)
		assert.Equal(t, c.want, got, name)
	}
}

// Links are led on where they stand as links; what is read stays.
func TestLinksAreLedOn(t *testing.T) {
	t.Parallel()
	to := func(address string) string {
		if address == "https://www.club.example/a?b&c" {
			return "/juniors/a"
		}
		return ""
	}
	for was, want := range map[string]string{
		`See [it](<https://www.club.example/a?b&c>), [this](https://www.club.example/a?b&c).`:              `See [it](</juniors/a>), [this](</juniors/a>).`,
		`<p><a class="x" href="https://www.club.example/a?b&amp;c">https://www.club.example/a?b&amp;c</a>`: `<p><a class="x" href="/juniors/a">https://www.club.example/a?b&amp;c</a>`,
		`https://www.club.example/a?b&c [other](<https://www.club.example/>) [x](y)`:                       `https://www.club.example/a?b&c [other](<https://www.club.example/>) [x](y)`,
	} {
		assert.Equal(t, want, carry.Links(was, to))
	}
	assert.Equal(t, "[a](<b\\\\c>)", carry.Links("[a](<x>)", func(string) string { return "b\\c" }))
	assert.Equal(t, "[a](<x>)", carry.Links("[a](<x>)", func(string) string { return "y>z" }))
}

// What a page is about, and where its pictures are, is said in several ways; small pictures only fill or mark.
func TestWhatIsMeant(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct {
		source string
		want   []string
	}{
		"role":                 {`<div id=content><p>b</div><div role=main><p>a</div>`, []string{"words a"}},
		"main":                 {`<div role=banner><p>b</div><main><p>a</main>`, []string{"words a"}},
		"one article":          {`<p>b<article><p>a</article>`, []string{"words a"}},
		"two articles":         {`<article><p>a</article><article><p>b</article>`, []string{"words a", "words b"}},
		"fetched later":        {`<img data-src=later.jpg alt=Pier>`, []string{`picture later.jpg "Pier"`}},
		"a stand-in":           {`<img src="data:image/gif;base64,R0" data-src=later.jpg alt=Pier>`, []string{`picture later.jpg "Pier"`}},
		"both are there":       {`<img src=now.jpg data-src=later.jpg alt=Pier>`, []string{`picture now.jpg "Pier"`}},
		"no address":           {`<img alt="A pier"><img>`, []string{"words A pier"}},
		"balls and lines":      {`<img src=a.gif width=9><img src=b.gif height="47px"><img src=c.gif width=0><img src=d.gif width=10>`, nil},
		"large enough":         {`<img src=a.gif width=48><img src=b.gif width=90 height=100>`, []string{`picture a.gif ""`, `picture b.gif ""`}},
		"no number":            {`<img src=a.gif width=4a><img src=b.gif width="10%"><img src=c.gif width="">`, []string{`picture a.gif ""`, `picture b.gif ""`, `picture c.gif ""`}},
		"small, with words":    {`<img src=a.gif width=9 alt="New">`, []string{`picture a.gif "New"`}},
		"paragraphs in a list": {`<ul><li><p>One</p><li>Two<li> </ul>`, []string{"words - One\n- Two"}},
		"several in a list":    {`<ul><li><p>One</p><p>two</p></ul>`, []string{"html <ul><li><p>One</p><p>two</p></li></ul>"}},
	} {
		_, got := read(t, "<body>"+c.source)
		assert.Equal(t, c.want, got, name)
	}
}

// Whether a page says a description at all is told, also where it says an empty one; breaks that follow each other begin
// one paragraph.
func TestEmptyDescriptionsAndBreaks(t *testing.T) {
	t.Parallel()
	p, err := carry.Read([]byte(`<img src=a.jpg><img src=b.jpg alt=""><img src=c.jpg alt=Pier title=x>`), carry.Options{})
	require.NoError(t, err)
	require.Len(t, p.Blocks, 3)
	assert.Equal(t, []bool{false, true, true}, []bool{p.Blocks[0].HasAlt, p.Blocks[1].HasAlt, p.Blocks[2].HasAlt})
	_, got := read(t, "<body>One<br> <br><!-- x --><br>two<br>three")
	assert.Equal(t, []string{"words One", "words two\\\nthree"}, got)
}
