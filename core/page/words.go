package page

import (
	"bytes"
	"fmt"
	"html"
	"regexp"
	"strings"

	"github.com/PuerkitoBio/goquery"
	"github.com/microcosm-cc/bluemonday"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"
	"github.com/yuin/goldmark/parser"
	"github.com/yuin/goldmark/util"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/rules"
)

// clean lets through what CommonMark makes and nothing that acts. Pictures come
// in by placements, where they are fitted and described.
var clean = policy()

// cleanStyled also lets through the text styles of paragraphs.
var cleanStyled = policy().AllowAttrs("class").Matching(regexp.MustCompile("^(" + strings.Join(rules.TextStyles, "|") + ")$")).OnElements("p")

// linking lets through links that act by nothing but being followed, and nothing else.
func linking() *bluemonday.Policy {
	p := bluemonday.NewPolicy()
	p.AllowStandardURLs()
	p.AllowAttrs("href").OnElements("a")
	p.RequireNoFollowOnLinks(false)
	return p
}

func policy() *bluemonday.Policy {
	p := linking()
	p.AllowElements("p", "br", "hr", "div", "span", "h2", "h3", "h4", "h5", "h6", "b", "strong", "i", "em", "u", "s", "del", "ins", "small", "sub", "sup", "mark",
		"code", "pre", "kbd", "samp", "var", "blockquote", "q", "cite", "abbr", "address", "time", "dl", "dt", "dd", "figure", "figcaption", "details", "summary", "section", "article", "aside")
	p.AllowLists()
	p.AllowAttrs("start").Matching(bluemonday.Integer).OnElements("ol")
	p.AllowTables()
	p.AllowAttrs("title").OnElements("abbr")
	return p
}

// words reads CommonMark, and tables as many programs write them.
var words = goldmark.New(goldmark.WithExtensions(extension.Table), goldmark.WithParserOptions(parser.WithASTTransformers(util.Prioritized(styler{}, 0))))

// TextHTML turns CommonMark, with tables and text styles, into sanitised HTML.
func TextHTML(source string) string {
	var b bytes.Buffer
	if err := words.Convert([]byte(source), &b); err != nil {
		return "<p>" + html.EscapeString(source) + "</p>\n"
	}
	return cleaned(cleanStyled, b.String())
}

// CleanHTML takes out of HTML what acts, what styles and what frames, and keeps
// the rest, well-formed: see [Rewrite]. A page has its title as its only first heading, so others become
// second ones.
func CleanHTML(source string) string { return cleaned(clean, source) }

func cleaned(policy *bluemonday.Policy, source string) string {
	return headed.ReplaceAllStringFunc(Rewrite(policy.Sanitize(second.Replace(source))), func(th string) string {
		if strings.Contains(th, "scope=") {
			return th
		}
		return `<th scope="col"` + strings.TrimPrefix(th, "<th")
	})
}

// second makes first headings second ones.
var second = strings.NewReplacer("<h1>", "<h2>", "</h1>", "</h2>", "<H1>", "<h2>", "</H1>", "</h2>", "<h1 ", "<h2 ")

// headed finds the heads of tables: each says what it is the head of, a column where
// nothing else is said (WCAG 2.2, technique H63, memory).
var headed = regexp.MustCompile(`<th(\s[^>]*)?>`)

// Outline returns the addresses that the words of a block, and the captions in it, lead to, and the levels of
// its headings, both in reading order.
func (b Block) Outline() (links []string, headings []int) {
	var text string
	links = b.captionLinks()
	switch b.Kind {
	case Heading:
		return nil, []int{b.HeadingLevel()}
	case Text, Beside:
		text = TextHTML(b.Text)
	case HTML:
		text = CleanHTML(b.Text)
	}
	if !strings.Contains(text, "<a ") && !strings.Contains(text, "<h") {
		return links, nil
	}
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(text))
	if err != nil {
		return links, nil
	}
	links = append(links, hrefs(doc)...)
	doc.Find("h2, h3, h4, h5, h6").Each(func(_ int, h *goquery.Selection) { headings = append(headings, int(goquery.NodeName(h)[1]-'0')) })
	return links, headings
}

// hrefs are the addresses that links lead to, in reading order.
func hrefs(doc *goquery.Document) (all []string) {
	doc.Find("a[href]").Each(func(_ int, a *goquery.Selection) { all = append(all, a.AttrOr("href", "")) })
	return all
}

func hrefsOf(text string) []string {
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(text))
	if err != nil {
		return nil
	}
	return hrefs(doc)
}

// Describe tells what a file is: “PDF, 120 kB”.
func (a Attachment) Describe() string {
	kind := strings.ToUpper(strings.TrimPrefix(facts.Extension(a.MediaType), "."))
	if i := strings.LastIndexByte(a.Name, '.'); kind == "" && i >= 0 {
		kind = strings.ToUpper(a.Name[i+1:])
	}
	return strings.TrimPrefix(fmt.Sprintf("%s, %s", kind, fit.Weight(a.Bytes)), ", ")
}
