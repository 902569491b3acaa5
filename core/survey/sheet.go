package survey

import (
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/andybalholm/cascadia"
	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
)

// sheet is what of styles says how wide something is, and which files they show.
type sheet struct {
	rules     []rule
	addresses []string // of pictures and fonts
	imports   []string // of other style sheets
	unclear   bool     // something in it could say how large pictures are, and was not understood
}

// rule is a declaration for what a selector finds.
type rule struct {
	finds     cascadia.Sel
	property  string
	value     length
	important bool
	media     []media // all of which must hold
}

// widths are the properties that say how wide something is.
var widths = []string{"width", "max-width", "height", "padding", "padding-left", "padding-right", "margin", "margin-left", "margin-right", "box-sizing", "display"}

// others are properties that have a say in how large something is, too, and that nothing is worked out from.
var others = []string{"max-height", "min-height", "min-width", "aspect-ratio", "zoom", "content", "all", "inline-size", "block-size", "max-inline-size", "max-block-size", "min-inline-size", "min-block-size"}

// unclear is the property that stands for one of those, and for a size that has to be worked out.
const unclear = "unclear"

// add reads more styles (CSS Syntax 3). on is the condition that holds for all of them.
func (s *sheet) add(text, on string) {
	p := css.NewParser(parse.NewInputString(text), false)
	outer := [][]media{readMedia(on)}
	var selectors []string
	failed := -1
	for {
		kind, _, data := p.Next()
		switch kind {
		case css.ErrorGrammar:
			if !mends(p, &failed) {
				return
			}
		case css.AtRuleGrammar:
			switch strings.ToLower(string(data)) {
			case "@import":
				s.imports = append(s.imports, addressIn(p.Values()))
			}
		case css.BeginAtRuleGrammar:
			within := slices.Clone(outer[len(outer)-1])
			switch strings.ToLower(string(data)) {
			case "@media":
				within = append(within, readMedia(textOf(p.Values()))...)
			case "@font-face", "@page", "@keyframes", "@-webkit-keyframes":
			default:
				s.unclear = true // whether what is in it holds nobody worked out
			}
			outer = append(outer, within)
		case css.EndAtRuleGrammar:
			outer = outer[:max(1, len(outer)-1)]
		case css.QualifiedRuleGrammar, css.BeginRulesetGrammar:
			selectors = append(selectors, eachOf(p.Values())...)
		case css.EndRulesetGrammar:
			selectors = nil
		case css.DeclarationGrammar:
			s.declare(selectors, strings.ToLower(string(data)), p.Values(), outer[len(outer)-1])
		}
	}
}

func (s *sheet) declare(selectors []string, property string, values []css.Token, on []media) {
	for _, v := range values {
		if v.TokenType == css.URLToken {
			s.addresses = append(s.addresses, bareURL(string(v.Data)))
		}
	}
	for _, selector := range selectors {
		s.unclear = s.unclear || followsAttributes(selector)
	}
	if !slices.Contains(widths, property) && !slices.Contains(others, property) {
		return
	}
	for _, selector := range selectors {
		finds, err := cascadia.Parse(selector)
		if err != nil { // a selector for what happens, such as :hover, or of a later time
			s.unclear = s.unclear || !strings.Contains(selector, "::") && !passing.MatchString(selector)
			continue
		}
		for _, d := range readDeclaration(property, values) {
			s.rules = append(s.rules, rule{finds, d.property, d.value, d.important, on})
		}
	}
}

// passing are states that nobody is in who only looks, and parts of the page that are no elements (Selectors 4).
var passing = regexp.MustCompile(`(?i):(hover|focus|focus-within|focus-visible|active|visited|link|any-link|target|before|after|first-letter|first-line|selection|checked|disabled|root)\b`)

// followsAttributes reports whether a selector finds pictures by attributes that change when pages are mended.
func followsAttributes(selector string) bool {
	for _, name := range []string{"src", "srcset", "sizes", "width", "height", "loading", "alt"} {
		for _, end := range []string{"]", "=", "^", "$", "*", "~", "|", " "} {
			if strings.Contains(strings.ToLower(selector), "["+name+end) {
				return true
			}
		}
	}
	return false
}

// mends reports whether reading goes on after what is no CSS: as long as it comes further. failed is where it
// failed last.
func mends(p *css.Parser, failed *int) bool {
	if !p.HasParseError() || p.Offset() <= *failed {
		return false
	}
	*failed = p.Offset()
	return true
}

// eachOf parts a list of selectors at its commas, and not at those within brackets.
func eachOf(tokens []css.Token) (all []string) {
	deep, from := 0, 0
	for i, t := range tokens {
		switch t.TokenType {
		case css.LeftParenthesisToken, css.LeftBracketToken, css.FunctionToken:
			deep++
		case css.RightParenthesisToken, css.RightBracketToken:
			deep--
		case css.CommaToken:
			if deep == 0 {
				all, from = append(all, textOf(tokens[from:i])), i+1
			}
		}
	}
	return append(all, textOf(tokens[from:]))
}

func textOf(tokens []css.Token) string {
	var b strings.Builder
	for _, t := range tokens {
		b.Write(t.Data)
	}
	return b.String()
}

// addressIn is the address that an @import begins with.
func addressIn(tokens []css.Token) string {
	for _, t := range tokens {
		switch t.TokenType {
		case css.URLToken:
			return bareURL(string(t.Data))
		case css.StringToken:
			return strings.Trim(string(t.Data), `"'`)
		}
	}
	return ""
}

func bareURL(token string) string {
	if len(token) >= 5 && strings.EqualFold(token[:4], "url(") {
		token = strings.TrimSuffix(token[4:], ")")
	}
	return strings.Trim(strings.TrimSpace(token), `"'`)
}

// addressesOf are the addresses in a style attribute.
func addressesOf(style string) []string {
	var s sheet
	for _, d := range inline(style) {
		s.declare(nil, d.name, d.values, nil)
	}
	return s.addresses
}

type plainDeclaration struct {
	name   string
	values []css.Token
}

// inline reads a style attribute.
func inline(style string) (all []plainDeclaration) {
	p := css.NewParser(parse.NewInputString(style), true)
	failed := -1
	for {
		kind, _, data := p.Next()
		switch kind {
		case css.ErrorGrammar:
			if !mends(p, &failed) {
				return all
			}
		case css.DeclarationGrammar:
			all = append(all, plainDeclaration{strings.ToLower(string(data)), slices.Clone(p.Values())})
		}
	}
}

// unit is what a length is counted in.
type unit int

const (
	none    unit = iota // the property is not said, or says auto
	px                  // CSS pixels
	percent             // of what holds it
	vw                  // of the window
	keyword             // the number is one of the keywords below
)

// length is a value of a property.
type length struct {
	n  float64
	in unit
}

// The keywords that matter.
const (
	borderBox = 1 + iota
	notShown
	arranged // what it holds, as flex and grid do
)

// perUnit is how many CSS pixels lengths have (CSS Values 4, 6.2); what follows from letters is taken for
// letters of 16 px.
var perUnit = map[string]float64{"px": 1, "em": 16, "rem": 16, "ex": 8, "ch": 8, "pt": 96. / 72, "pc": 16, "in": 96, "cm": 96 / 2.54, "mm": 96 / 25.4}

func readLength(t css.Token) (length, bool) {
	text := strings.ToLower(string(t.Data))
	switch t.TokenType {
	case css.PercentageToken:
		n, err := strconv.ParseFloat(strings.TrimSuffix(text, "%"), 64)
		return length{n, percent}, err == nil
	case css.NumberToken:
		n, err := strconv.ParseFloat(text, 64)
		return length{n, px}, err == nil && n == 0
	case css.DimensionToken:
		end := strings.LastIndexAny(text, "0123456789.") + 1
		n, err := strconv.ParseFloat(text[:end], 64)
		if text[end:] == "vw" {
			return length{n, vw}, err == nil
		}
		per, known := perUnit[text[end:]]
		return length{n * per, px}, err == nil && known
	case css.IdentToken:
		switch text {
		case "border-box":
			return length{borderBox, keyword}, true
		case "auto", "none":
			return length{}, true
		}
	}
	return length{}, false
}

type declaration struct {
	property  string
	value     length
	important bool
}

// readDeclaration reads one that says how wide something is; padding and margin as what they say of the
// left and the right side.
func readDeclaration(property string, tokens []css.Token) (all []declaration) {
	if slices.Contains(others, property) {
		return []declaration{{property: unclear}}
	}
	var values []length
	important := false
	for _, t := range tokens {
		if t.TokenType == css.IdentToken && strings.EqualFold(string(t.Data), "important") {
			important = true
		} else if property == "display" {
			if strings.EqualFold(string(t.Data), "none") {
				return []declaration{{property, length{notShown, keyword}, important}}
			}
			if text := strings.ToLower(string(t.Data)); strings.HasSuffix(text, "flex") || strings.HasSuffix(text, "grid") {
				return []declaration{{property, length{arranged, keyword}, important}}
			}
			return []declaration{{property, length{}, important}}
		} else if v, ok := readLength(t); ok {
			values = append(values, v)
		} else if t.TokenType == css.FunctionToken {
			if property == "width" || property == "max-width" || property == "height" {
				return []declaration{{property: unclear}}
			}
			return nil // calc() and what else has to be worked out
		}
	}
	if len(values) == 0 && (property == "width" || property == "max-width" || property == "height") {
		return []declaration{{property: unclear}} // such as fit-content
	}
	if len(values) == 0 {
		return nil
	}
	if property != "padding" && property != "margin" {
		return []declaration{{property, values[0], important}}
	}
	right := values[min(1, len(values)-1)]
	left := right
	if len(values) == 4 {
		left = values[3]
	}
	return []declaration{{property + "-left", left, important}, {property + "-right", right, important}}
}

// media is a condition on the window.
type media struct {
	least, most float64 // CSS pixels; 0 for no limit
	never       bool    // not on a screen
}

// readMedia reads a media query (Media Queries 4). Of several, the first that is for a screen is taken;
// of its conditions, those on the width.
func readMedia(text string) []media {
	text = strings.ToLower(strings.TrimSpace(text))
	if text == "" {
		return nil
	}
	for _, one := range strings.Split(text, ",") {
		if m, ok := oneMedia(one); ok {
			return []media{m}
		}
	}
	return []media{{never: true}}
}

func oneMedia(text string) (m media, ok bool) {
	fields := strings.FieldsFunc(text, func(r rune) bool { return r == '(' || r == ')' })
	for _, f := range fields {
		name, value, has := strings.Cut(f, ":")
		name = strings.TrimSpace(name)
		if !has {
			for _, word := range strings.Fields(name) {
				if word == "print" || word == "speech" || word == "not" || word == "tty" || word == "handheld" {
					return m, false
				}
			}
			continue
		}
		p := css.NewLexer(parse.NewInputString(strings.TrimSpace(value)))
		kind, data := p.Next()
		l, good := readLength(css.Token{TokenType: kind, Data: data})
		switch {
		case name == "max-width" && good:
			m.most = l.n
		case name == "min-width" && good:
			m.least = l.n
		}
	}
	return m, true
}

// holds reports whether a condition holds in a window of a width.
func (m media) holds(viewport float64) bool {
	return !m.never && viewport >= m.least && (m.most == 0 || viewport <= m.most)
}
