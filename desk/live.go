package desk

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/PuerkitoBio/goquery"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/store"
)

// Report is what was checked on the live page after publishing, as a visitor
// would see it.
type Report struct {
	At     time.Time `json:"at"`
	URL    string    `json:"url"`
	Checks []Check   `json:"checks"`
}

// Check is one thing that was looked at.
type Check struct {
	OK   bool   `json:"ok"`
	Text string `json:"text"`
}

// OK reports whether everything was as it should be.
func (r Report) OK() bool {
	for _, c := range r.Checks {
		if !c.OK {
			return false
		}
	}
	return len(r.Checks) > 0
}

func (r *Report) check(ok bool, format string, args ...any) {
	r.Checks = append(r.Checks, Check{ok, fmt.Sprintf(format, args...)})
}

func readReport(p store.Page) (*Report, error) {
	if p.Report == "" {
		return nil, nil
	}
	var r Report
	err := json.Unmarshal([]byte(p.Report), &r)
	return &r, err
}

// CheckLive fetches a live page back from the site and checks it: that it answers, that
// the page and every file that it shows are, byte for byte, what was signed, come with
// the right type and size, have alt text, and carry no data that nobody sees. The
// report is kept with the page.
func (d *Desk) CheckLive(ctx context.Context, id uint) (Report, error) {
	if err := d.mayLook(); err != nil {
		return Report{}, err
	}
	v, err := d.toVisit(id)
	if err != nil {
		return Report{}, err
	}
	r := Report{At: d.now(), URL: d.site + v.page.Path()}
	v.walk(ctx, &r)
	data, err := json.Marshal(r)
	if err != nil {
		return r, err
	}
	return r, d.store.SetReport(id, string(data))
}

// visitor looks at a live page as somebody from outside would, and knows what was
// signed.
type visitor struct {
	desk     *Desk
	page     store.Page
	stands   []page.Stand               // of the document that went live
	pictures map[uint]store.Picture     // that stand on it
	signed   map[string]store.Published // by address, without the site
}

// toVisit reads what was signed of a page that is live, or would be.
func (d *Desk) toVisit(id uint) (visitor, error) {
	v := visitor{desk: d, signed: map[string]store.Published{}}
	return v, d.store.View(func(s *store.Store) error {
		var err error
		if v.page, err = s.Page(id); err != nil {
			return missing(err, "The page")
		}
		files, err := s.FilesOf(id)
		if err != nil {
			return err
		}
		for _, f := range files {
			v.signed[f.Path+"?v="+store.Mark(f.Hash)] = f
			v.signed[f.Path] = f
		}
		live, err := s.NewestLive(id)
		if errors.Is(err, store.ErrNotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		doc, err := page.Parse([]byte(live.Doc))
		if err != nil {
			return fmt.Errorf("the live version of page %d: %w", id, err)
		}
		v.stands = slices.DeleteFunc(doc.Stands(d.Rules()), page.Stand.Waits)
		v.pictures, err = s.PicturesIn(doc.Pictures())
		return err
	})
}

func (v visitor) walk(ctx context.Context, r *Report) {
	data, _, err := v.desk.fetch(ctx, r.URL)
	if err != nil {
		r.check(false, "The page does not answer: %v", err)
		return
	}
	r.check(true, "The page answers at %s", r.URL)
	r.check(hashOfBytes(data) == v.signed[v.page.Path()].Hash, "The page is the one that was signed, byte for byte")
	doc, err := goquery.NewDocumentFromReader(bytes.NewReader(data))
	if err != nil {
		r.check(false, "The page cannot be read: %v", err)
		return
	}
	images := doc.Find("main figure img")
	r.check(images.Length() == len(v.stands), "%d of %d pictures stand on it", images.Length(), len(v.stands))
	images.Each(func(i int, img *goquery.Selection) {
		if i < len(v.stands) {
			v.image(ctx, r, img, v.stands[i])
		}
	})
	doc.Find("main .large img").Each(func(_ int, img *goquery.Selection) {
		if sizes, err := v.files(ctx, r.URL, img, false); err != nil {
			r.check(false, "Enlarged, %s", err)
		} else {
			r.check(true, "Enlarged: %s, nothing hidden inside", sizes)
		}
	})
	doc.Find("link[rel=stylesheet]").Each(func(_ int, link *goquery.Selection) {
		if at, err := absolute(r.URL, link.AttrOr("href", "")); err != nil {
			r.check(false, "A stylesheet has no address: %v", err)
		} else if _, kind, err := v.desk.fetch(ctx, at); err != nil || !strings.HasPrefix(kind, "text/css") {
			r.check(false, "Its stylesheet %s does not come (%s %v)", at, kind, err)
		}
	})
	v.originals(r, string(data))
}

// originals looks for a way from the page to what was never published: the address or
// the content of an original, as the desk has it.
func (v visitor) originals(r *Report, html string) {
	for _, pic := range v.pictures {
		for _, secret := range []string{pic.OriginalHash, fmt.Sprintf("/previews/%d", pic.ID), fmt.Sprintf("/bench/%d", pic.ID)} {
			if strings.Contains(html, secret) {
				r.check(false, "%s: the page leads to its original", nameOr(pic))
				return
			}
		}
	}
	if len(v.stands) > 0 {
		r.check(true, "Nothing on it leads to an original")
	}
}

func (v visitor) image(ctx context.Context, r *Report, img *goquery.Selection, s page.Stand) {
	src := img.AttrOr("src", "")
	label := strings.SplitN(src[strings.LastIndex(src, "/")+1:], "?", 2)[0]
	pic, there := v.pictures[s.Picture]
	withdrawn := v.signed[src].Hash != "" && v.signed[src].PictureID == 0
	switch alt := strings.TrimSpace(img.AttrOr("alt", "")); {
	case withdrawn:
		r.check(true, "A neutral space stands where a picture was taken off the air")
	case there && alt == "" && AltOf(s.Placement, pic) == "" && (s.Decorative || pic.Work.Decorative):
		r.check(true, "%s is decorative here, as was said", label)
	default:
		r.check(alt != "", "%s is described: “%s”", label, alt)
	}
	sizes, err := v.files(ctx, r.URL, img, there && !withdrawn && moves(pic, s.Slot))
	if err != nil {
		r.check(false, "%s: %s", label, err)
		return
	}
	r.check(true, "%s: %s, as it was signed, nothing hidden inside", label, sizes)
}

// files fetches all files that a browser may choose from for an image, and tells their
// sizes.
func (v visitor) files(ctx context.Context, page string, img *goquery.Selection, moves bool) (string, error) {
	src := img.AttrOr("src", "")
	declared := map[string]int{src: atoi(img.AttrOr("width", ""))}
	for _, candidate := range strings.Split(img.AttrOr("srcset", ""), ",") {
		if fields := strings.Fields(candidate); len(fields) == 2 {
			declared[fields[0]] = atoi(strings.TrimSuffix(fields[1], "w"))
		}
	}
	var sizes, trouble []string
	for address, width := range declared {
		size, err := v.file(ctx, page, address, width, moves)
		if err != nil {
			trouble = append(trouble, err.Error())
		} else {
			sizes = append(sizes, size)
		}
	}
	if len(trouble) > 0 {
		slices.Sort(trouble)
		return "", errors.New(strings.Join(trouble, "; "))
	}
	text := strings.Join(sorted(sizes), " and ")
	if moves {
		text += ", and it moves"
	}
	return text, nil
}

func absolute(page, address string) (string, error) {
	base, err := url.Parse(page)
	if err != nil {
		return "", err
	}
	at, err := base.Parse(address)
	if err != nil {
		return "", fmt.Errorf("its address %q is none", address)
	}
	return at.String(), nil
}

// file fetches one file of a picture and compares it with what was signed, and with
// what the page says of it.
func (v visitor) file(ctx context.Context, page, address string, width int, moves bool) (string, error) {
	at, err := absolute(page, address)
	if err != nil {
		return "", err
	}
	data, kind, err := v.desk.fetch(ctx, at)
	if err != nil {
		return "", err
	}
	switch signed, ok := v.signed[address]; {
	case !ok:
		return "", fmt.Errorf("%s was not signed", address)
	case hashOfBytes(data) != signed.Hash:
		return "", fmt.Errorf("what comes from %s is not what was signed", address)
	case signed.PictureID == 0:
		return fmt.Sprintf("%d wide", width), nil // a neutral space
	}
	real, err := facts.Read(bytes.NewReader(data))
	switch {
	case err != nil:
		return "", fmt.Errorf("it is sent as %s, and cannot be read: %w", kind, err)
	case real.MediaType != kind:
		return "", fmt.Errorf("it is sent as %s, but is %s", kind, real.MediaType)
	case moves && real.Frames < 2:
		return "", errors.New("it stands still, and should move")
	case real.Stored.W != width:
		return "", fmt.Errorf("it is %d pixels wide where the page says %d", real.Stored.W, width)
	}
	extras := facts.Extras(data)
	if len(v.desk.Rules().Placing.Keep) > 0 { // the house lets some words stay: a packet of XMP
		extras = slices.DeleteFunc(extras, func(e string) bool { return e == "APP1" || e == "iTXt" })
	}
	if len(extras) > 0 {
		return "", fmt.Errorf("it still carries %s", strings.Join(extras, ", "))
	}
	return fmt.Sprintf("%d × %d in %s", real.Stored.W, real.Stored.H, fit.Weight(int64(len(data)))), nil
}

func (d *Desk) fetch(ctx context.Context, address string) (data []byte, mediaType string, err error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
	if err != nil {
		return nil, "", err
	}
	res, err := d.visitor.Do(req)
	if err != nil {
		return nil, "", err
	}
	defer res.Body.Close()
	if res.StatusCode != http.StatusOK {
		return nil, "", fmt.Errorf("%s answers %s", address, res.Status)
	}
	data, err = io.ReadAll(io.LimitReader(res.Body, 64<<20))
	return data, res.Header.Get("Content-Type"), err
}

func hashOfBytes(data []byte) string {
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:])
}

func atoi(s string) int {
	n, _ := strconv.Atoi(s)
	return n
}

func sorted(s []string) []string {
	slices.SortFunc(s, func(a, b string) int { return atoi(strings.Fields(a)[0]) - atoi(strings.Fields(b)[0]) })
	return s
}

// LivePage is a page that visitors see, with what was checked on it.
type LivePage struct {
	store.Page
	URL    string
	Report *Report
}

// LivePages returns the pages that visitors see.
func (d *Desk) LivePages() ([]LivePage, error) {
	pages, err := d.Pages()
	if err != nil {
		return nil, err
	}
	var live []LivePage
	for _, p := range pages {
		if !p.Live() {
			continue
		}
		report, err := readReport(p)
		if err != nil {
			return nil, err
		}
		live = append(live, LivePage{p, d.site + p.Path(), report})
	}
	return live, nil
}
