package visit

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/lists"
	"mivlet/internal/traces"
	"mivlet/store"
)

// Check fetches a live page back from the site and checks it: that it answers, that
// the page and every file that it shows are, byte for byte, what was signed, come with
// the right type and size, have alt text, and carry no data that nobody sees. The
// report is kept with the page.
func (d *Desk) Check(ctx context.Context, id uint) (Report, error) {
	if err := d.MayLook(); err != nil {
		return Report{}, err
	}
	v, err := d.toVisit(id)
	if err != nil {
		return Report{}, err
	}
	ctx, looked := traces.Part(ctx, "look at a live page")
	defer func() { looked(nil) }()
	r := Report{At: d.Now(), URL: d.Site + v.page.Path()}
	v.walk(ctx, &r)
	data, err := json.Marshal(r)
	if err != nil {
		return r, err
	}
	return r, d.Store.SetReport(id, string(data))
}

// visit looks at a live page as somebody from outside would, and knows what was
// signed.
type visit struct {
	desk     *Desk
	page     store.Page
	stands   []page.Stand               // of the document that went live
	pictures map[uint]store.Picture     // that stand on it
	signed   map[string]store.Published // by address, without the site
}

// toVisit reads what was signed of a page that is live, or would be.
func (d *Desk) toVisit(id uint) (visit, error) {
	v := visit{desk: d, signed: map[string]store.Published{}}
	return v, d.Store.View(func(s store.Records) error {
		var err error
		if v.page, err = s.Page(id); err != nil {
			return access.NotFound(err, "The page")
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
		v.stands = slices.DeleteFunc(doc.Stands(d.Rules()), func(s page.Stand) bool { return s.Waits() || s.Beyond })
		v.pictures, err = s.PicturesIn(doc.Pictures())
		return err
	})
}

func (v visit) walk(ctx context.Context, r *Report) {
	data, _, err := v.desk.visitor.Fetch(ctx, r.URL)
	if err != nil {
		r.Check(false, "The page does not answer: %v", err)
		return
	}
	r.Check(true, "The page answers at %s", r.URL)
	data = page.EmptySpots(data, v.desk.Rules(), v.page.ID) // what runs there is signed by itself
	r.Check(store.HashOf(data) == v.signed[v.page.Path()].Hash, "The page is the one that was signed, byte for byte")
	seen, err := page.ReadHTML(bytes.NewReader(data))
	if err != nil {
		r.Check(false, "The page cannot be read: %v", err)
		return
	}
	switch shown, all := len(seen.Pictures), len(v.stands); {
	case shown != all:
		r.Check(false, "It shows %d pictures instead of %d", shown, all)
	case all > 0:
		r.Check(true, "It shows every picture: %d", all)
	}
	for i, img := range seen.Pictures {
		if i < len(v.stands) {
			v.image(ctx, r, img, v.stands[i])
		}
	}
	v.beside(ctx, r, seen.Still, "Held still", "nothing hidden inside")
	v.beside(ctx, r, seen.Enlarged, "Enlarged", "nothing hidden inside")
	v.beside(ctx, r, seen.Behind, "Behind the text", "as it was signed")
	v.lists(ctx, r, seen)
	v.leaves(ctx, r)
	v.albums(ctx, r)
	v.cover(ctx, r)
	v.link(ctx, r, seen.Head)
	for _, style := range seen.Styles {
		if at, err := absolute(r.URL, style); err != nil {
			r.Check(false, "A stylesheet has no address: %v", err)
		} else if _, kind, err := v.desk.visitor.Fetch(ctx, at); err != nil || !strings.HasPrefix(kind, "text/css") {
			r.Check(false, "Its stylesheet %s does not come (%s %v)", at, kind, err)
		}
	}
	v.originals(r, string(data))
}

// lists looks at what the page lists.
func (v visit) lists(ctx context.Context, r *Report, seen page.Read) {
	if seen.Cards == 0 {
		return
	}
	for _, img := range seen.Listed {
		if _, err := v.files(ctx, r.URL, img, false); err != nil {
			r.Check(false, "In its lists, %s: %s", fileName(img.Src), err)
			return
		}
	}
	r.Check(true, "It lists %s, %s with a cover, as they were signed", access.Count(seen.Cards, "page"), strconv.Itoa(len(seen.Listed)))
}

// beside looks at what stands beside the pictures; where says where that is, well what is good
// of it.
func (v visit) beside(ctx context.Context, r *Report, all []page.ReadImage, where, well string) {
	for _, img := range all {
		if sizes, err := v.files(ctx, r.URL, img, false); err != nil {
			r.Check(false, "%s, %s", where, err)
		} else {
			r.Check(true, "%s: %s, %s", where, sizes, well)
		}
	}
}

// leaves looks at the first of the pages that list all of something, and at what stands
// behind its name: the others begin like it.
func (v visit) leaves(ctx context.Context, r *Report) {
	var first store.Published
	n := 0
	for address, f := range v.signed {
		if f.For == store.ForLeaf && address == f.Path {
			if n++; n == 1 || f.Path < first.Path {
				first = f
			}
		}
	}
	if n == 0 {
		return
	}
	data, _, err := v.desk.visitor.Fetch(ctx, v.desk.Site+first.Path)
	if err != nil || store.HashOf(data) != first.Hash {
		r.Check(false, "%s, which lists all of them, is not as it was made (%v)", first.Path, err)
		return
	}
	r.Check(true, "%s lists all of them", first.Path)
	seen, err := page.ReadHTML(bytes.NewReader(data))
	if err != nil {
		r.Check(false, "%s cannot be read: %v", first.Path, err)
		return
	}
	v.beside(ctx, r, seen.Behind, "Behind the name at its top", "as it was signed")
}

// cover looks at what stands for the page elsewhere.
func (v visit) cover(ctx context.Context, r *Report) {
	var sizes []string
	for address, f := range v.signed {
		if f.For != page.Tile.ID || address != lists.Address(f) {
			continue
		}
		size, err := v.file(ctx, r.URL, address, f.Width, false)
		if err != nil {
			r.Check(false, "Its cover: %s", err)
			return
		}
		sizes = append(sizes, size)
	}
	if len(sizes) > 0 {
		r.Check(true, "Its cover: %s, as it was signed", strings.Join(sorted(sizes), " and "))
	}
}

// link looks at the link picture as a reader of shared links gets it.
func (v visit) link(ctx context.Context, r *Report, head page.ReadHead) {
	address := head.Property("og:image")
	if address == "" {
		return
	}
	at, err := url.Parse(address)
	if err != nil || !at.IsAbs() {
		r.Check(false, "Its link picture has the address %q: readers need a whole one", address)
		return
	}
	size, err := v.file(ctx, r.URL, at.RequestURI(), atoi(head.Property("og:image:width")), false)
	if err != nil {
		r.Check(false, "Its link picture: %s", err)
		return
	}
	r.Check(true, "Its link picture: %s, as it was signed", size)
}

// fileName is what a file is called at an address.
func fileName(address string) string {
	name, _, _ := strings.Cut(address[strings.LastIndex(address, "/")+1:], "?")
	return name
}

// originals looks for a way from the page to what was never published: the address or
// the content of an original, as the desk has it.
func (v visit) originals(r *Report, html string) {
	for _, pic := range v.pictures {
		for _, secret := range []string{pic.OriginalHash, fmt.Sprintf("/previews/%d", pic.ID), fmt.Sprintf("/bench/%d", pic.ID)} {
			if strings.Contains(html, secret) {
				r.Check(false, "%s: the page leads to its original", access.NameOr(pic))
				return
			}
		}
	}
	if len(v.stands) > 0 {
		r.Check(true, "Nothing on it leads to an original")
	}
}

func (v visit) image(ctx context.Context, r *Report, img page.ReadImage, s page.Stand) {
	src := img.Src
	label := fileName(src)
	pic, there := v.pictures[s.Picture]
	withdrawn := v.signed[src].Hash != "" && v.signed[src].PictureID == 0
	switch alt := img.Alt; {
	case withdrawn:
		r.Check(true, "A neutral space stands where a picture was taken off the air")
	case there && alt == "" && s.Said(pic.Work.Alt, pic.Work.Decorative) == "" && (s.Decorative || pic.Work.Decorative):
		r.Check(true, "%s is decorative here, as was said", label)
	default:
		r.Check(alt != "", "%s is described: “%s”", label, alt)
	}
	sizes, err := v.files(ctx, r.URL, img, there && !withdrawn && derive.Moves(pic, s.Slot))
	if err != nil {
		r.Check(false, "%s: %s", label, err)
		return
	}
	r.Check(true, "%s: %s, as it was signed, nothing hidden inside", label, sizes)
}

// files fetches all files that a browser may choose from for an image, and tells their
// sizes.
func (v visit) files(ctx context.Context, at string, img page.ReadImage, moves bool) (string, error) {
	var sizes, trouble []string
	for address, width := range img.Files {
		size, err := v.file(ctx, at, address, width, moves)
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
func (v visit) file(ctx context.Context, page, address string, width int, moves bool) (string, error) {
	at, err := absolute(page, address)
	if err != nil {
		return "", err
	}
	data, kind, err := v.desk.visitor.Fetch(ctx, at)
	if err != nil {
		return "", err
	}
	switch signed, ok := v.signed[address]; {
	case !ok:
		return "", fmt.Errorf("%s was not signed", address)
	case store.HashOf(data) != signed.Hash:
		return "", fmt.Errorf("what comes from %s is not what was signed", address)
	case signed.PictureID == 0 && signed.For == "":
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

func atoi(s string) int {
	n, _ := strconv.Atoi(s)
	return n
}

func sorted(s []string) []string {
	slices.SortFunc(s, func(a, b string) int { return atoi(strings.Fields(a)[0]) - atoi(strings.Fields(b)[0]) })
	return s
}
