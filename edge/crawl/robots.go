package crawl

import (
	"bufio"
	"bytes"
	"regexp"
	"strconv"
	"strings"
	"time"
)

// robots is what a site asks of programs that fetch it (RFC 9309).
type robots struct {
	rules []rule
	wait  time.Duration // between two requests (common practice: Crawl-delay); 0 where it says nothing
}

// rule allows or forbids paths.
type rule struct {
	allows bool
	path   string
	fits   *regexp.Regexp
}

// mostRobots is how many bytes are read (RFC 9309, 2.5: at least 500 KiB).
const mostRobots = 512 << 10

// readRobots reads what a robots.txt says to a program of a name: the groups that name it, and where there is
// none, those for all (RFC 9309, 2.2.1).
func readRobots(text []byte, name string) robots {
	groups := map[bool]*robots{true: {}, false: {}} // those that name it, and those for all
	named := map[bool]bool{}
	var here []bool // of which the lines that follow are
	open := false
	lines := bufio.NewScanner(bytes.NewReader(text[:min(len(text), mostRobots)]))
	for lines.Scan() {
		line, _, _ := strings.Cut(lines.Text(), "#")
		key, value, ok := strings.Cut(line, ":")
		if !ok {
			continue
		}
		key, value = strings.ToLower(strings.TrimSpace(key)), strings.TrimSpace(value)
		switch key {
		case "user-agent":
			if !open {
				here = nil
			}
			open = true
			switch {
			case value == "*":
				here = append(here, false)
			case strings.EqualFold(value, name):
				here = append(here, true)
			}
			for _, h := range here {
				named[h] = true
			}
		case "allow", "disallow", "crawl-delay":
			open = false
			for _, h := range here {
				groups[h].take(key, value)
			}
		}
	}
	return *groups[named[true]]
}

func (r *robots) take(key, value string) {
	if key == "crawl-delay" {
		if s, err := strconv.ParseFloat(value, 64); err == nil && s > 0 {
			r.wait = time.Duration(min(s, longestWait.Seconds()) * float64(time.Second))
		}
		return
	}
	if value == "" {
		return
	}
	// * stands for whatever, $ for the end (RFC 9309, 2.2.3).
	end := strings.HasSuffix(value, "$")
	pattern := "^" + strings.ReplaceAll(regexp.QuoteMeta(strings.TrimSuffix(value, "$")), `\*`, ".*")
	if end {
		pattern += "$"
	}
	if fits, err := regexp.Compile(pattern); err == nil {
		r.rules = append(r.rules, rule{key == "allow", value, fits})
	}
}

// allows reports whether a path may be fetched: the rule that says most of it decides, and of two that say as
// much the one that allows (RFC 9309, 2.2.2).
func (r robots) allows(path string) bool {
	if path == "/robots.txt" {
		return true
	}
	best := rule{allows: true}
	for _, one := range r.rules {
		if one.fits.MatchString(path) && (len(one.path) > len(best.path) || len(one.path) == len(best.path) && one.allows) {
			best = one
		}
	}
	return best.allows
}
