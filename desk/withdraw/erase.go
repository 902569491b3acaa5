package withdraw

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/presence"
	"mivlet/store"
)

// Erasing says how far erasing a picture goes.
type Erasing struct {
	Why      string // kept in the trail
	Variants bool   // the variants of its original go, too
	Names    bool   // its names go from the trail and from the history of pages, too
}

// Receipt tells what erasing a picture has reached, and what it could not.
type Receipt struct {
	Number  uint // of the picture
	At      time.Time
	Reached []string
	Left    []string
}

// String is the receipt as the trail keeps it.
func (r Receipt) String() string {
	text := fmt.Sprintf("Erased picture number %d: %s.", r.Number, words.Listed(r.Reached))
	if len(r.Left) > 0 {
		text += " Not reached: " + strings.Join(r.Left, "; ") + "."
	}
	return text
}

// erasing gathers what belongs to the pictures that are being erased.
type erasing struct {
	Erasing
	pictures []store.Picture
	files    []string // hashes of all that was made of them, and of pages that showed them
	names    []string
	said     []string // words
	pages    []uint   // that ever showed them
	reached  map[string]int
	left     []string
	seen     time.Time // when visitors could get them last; zero for never
}

// Erase takes a picture away for good, at once, with all that was made of it: its
// original, working copies, thumbnails and cuts, its live copies and the earlier live
// versions that show it, screenshots under the ruler that are the same file, its words,
// its history and, where asked, its variants and its names in the trail. The receipt
// tells what could not be reached; it is kept in the trail.
func (d *Desk) Erase(ctx context.Context, id uint, o Erasing) (Receipt, error) {
	if err := d.MayKeep(); err != nil {
		return Receipt{}, err
	}
	if o.Why = words.VisibleLine(o.Why, 300); utf8.RuneCountInString(o.Why) < access.LeastReason {
		return Receipt{}, access.Refuse(access.Bad, "Say why it is erased.", fmt.Sprintf("Write at least %d characters: your successors will read it in the trail.", access.LeastReason))
	}
	receipt, live, err := d.erase(id, o, func(s store.Records, p store.Picture) error {
		return s.AddErasure(&store.Erasure{Picture: id, CameAt: p.CreatedAt, Variants: o.Variants, Names: o.Names, Why: o.Why, ErasedAt: d.Now()})
	})
	if err != nil {
		return receipt, err
	}
	d.Rooms.Notify(presence.Picture(id))
	return receipt, d.lookAgain(ctx, live)
}

// EraseCopied erases in a copy of the house's records, such as a backup, what was erased in the house. It
// reports whether the copy had it. Nobody looks at the live pages again: those of the copy are of its time.
func (d *Desk) EraseCopied(e store.Erasure) (bool, error) {
	if err := d.MayKeep(); err != nil {
		return false, err
	}
	p, err := d.Store.Picture(e.Picture)
	if errors.Is(err, store.ErrNotFound) || err == nil && !p.CreatedAt.Equal(e.CameAt) {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	_, _, err = d.erase(e.Picture, Erasing{Why: e.Why, Variants: e.Variants, Names: e.Names}, nil)
	return err == nil, err
}

// erase takes a picture out of records and files, and returns the pages whose live versions have changed.
// also, where it is not nil, is done in the same transaction.
func (d *Desk) erase(id uint, o Erasing, also func(store.Records, store.Picture) error) (Receipt, []uint, error) {
	receipt := Receipt{Number: id, At: d.Now()}
	var e erasing
	var live []uint
	err := d.Store.Tx(func(s store.Records) error {
		e = erasing{Erasing: o, reached: map[string]int{}}
		if err := d.gather(s, id, &e); err != nil {
			return err
		}
		live = nil
		for _, p := range e.pictures {
			pages, err := d.withdraw(s, p.ID, "was erased", true)
			if err != nil {
				return err
			}
			live = append(live, pages...)
		}
		e.reached["live page"] = len(live)
		for _, step := range []func(store.Records, *erasing) error{d.forgetInAlbums, d.forgetInBanners, d.forgetOnPages, d.forgetPictures, d.forgetSheets, d.forgetInTrail} {
			if err := step(s, &e); err != nil {
				return err
			}
		}
		if err := d.outOfReach(s, &e); err != nil {
			return err
		}
		if also != nil {
			if err := also(s, e.pictures[0]); err != nil {
				return err
			}
		}
		receipt.Reached, receipt.Left = e.inWords(), e.left
		return d.Trace(s, e.pictures[0].Section, "%s Why: %s", receipt, o.Why)
	})
	if err != nil {
		return Receipt{}, nil, err
	}
	if _, err := d.Store.RemoveUnnamed(e.files); err != nil {
		return receipt, nil, err
	}
	d.derive.ForgetDecoded(e.files)
	d.cuts.ForgetCuts(e.files)
	d.measure.ForgetMeasured()
	slices.Sort(live)
	return receipt, slices.Compact(live), d.Store.Scrub()
}

// gather finds all that belongs to a picture and, where asked, to its variants.
func (d *Desk) gather(s store.Records, id uint, e *erasing) error {
	p, err := s.Picture(id)
	if err != nil {
		return access.NotFound(err, "The picture")
	}
	e.pictures = []store.Picture{p}
	others, err := s.PicturesByOriginal(cmp.Or(p.ArrivedHash, p.OriginalHash))
	if err != nil {
		return err
	}
	for _, o := range others {
		variant := o.VariantOf == id || p.VariantOf == o.ID || o.VariantOf != 0 && o.VariantOf == p.VariantOf
		switch {
		case o.ID == id:
		case variant && e.Variants:
			e.pictures = append(e.pictures, o)
		default:
			e.left = append(e.left, fmt.Sprintf("picture number %d, which is made of the same file and keeps it", o.ID))
		}
	}
	for _, p := range e.pictures {
		e.files = append(e.files, p.OriginalHash, p.ArrivedHash, p.PreviewHash, p.ThumbHash, p.LookHash)
		made, err := s.FilesMadeOf(p.ID)
		if err != nil {
			return err
		}
		e.files = append(e.files, made...)
		pages, err := s.PagesThatShowed(p.ID)
		if err != nil {
			return err
		}
		e.pages = append(e.pages, pages...)
		if err := e.gatherWords(s, p); err != nil {
			return err
		}
	}
	e.files = append(e.files, d.lists.Stale()...)
	slices.Sort(e.pages)
	e.pages = slices.Compact(e.pages)
	for _, page := range e.pages {
		lives, err := s.WholeLiveVersions(page)
		if err != nil {
			return err
		}
		end := d.Now() // of the newest version, as far as anybody knows
		for _, v := range lives {
			for _, f := range v.Files {
				if f.PictureID == 0 || f.For == store.ForAlbum { // it may name what is erased; what is still shown stays
					e.files = append(e.files, f.Hash)
				}
			}
			if slices.ContainsFunc(v.Files, e.shows) && end.After(e.seen) {
				e.seen = end
			}
			end = v.At
		}
	}
	return nil
}

// numbers are those of the pictures.
func (e *erasing) numbers() []uint {
	all := make([]uint, len(e.pictures))
	for i, p := range e.pictures {
		all[i] = p.ID
	}
	return all
}

// shows reports whether a published file shows one of the pictures.
func (e *erasing) shows(f store.Published) bool {
	return slices.ContainsFunc(e.pictures, func(p store.Picture) bool { return p.ID == f.PictureID })
}

// gatherWords finds all names that a picture ever had, and all words that were said
// with it.
func (e *erasing) gatherWords(s store.Records, p store.Picture) error {
	former, err := s.FormerNames(p.ID)
	if err != nil {
		return err
	}
	steps, err := s.Steps(p.ID)
	if err != nil {
		return err
	}
	note := func(list *[]string, all ...string) {
		for _, one := range all {
			if one = strings.TrimSpace(one); one != "" {
				*list = access.AddOnce(*list, one)
			}
		}
	}
	note(&e.names, append(former, p.OriginalName, p.Work.Name)...)
	note(&e.said, p.Facts.Alt, p.Facts.Title, p.Facts.Description, p.Facts.LongDescription)
	for _, w := range append([]store.Work{p.Work}, worksOf(steps)...) {
		note(&e.names, w.Name)
		note(&e.said, w.Alt, w.Caption, w.LongAlt, w.Reason, w.Hidden)
	}
	for _, c := range p.Consents {
		note(&e.said, c.Whom, c.Note)
	}
	return nil
}

func worksOf(steps []store.Step) []store.Work {
	all := make([]store.Work, len(steps))
	for i, step := range steps {
		all[i] = step.Work
	}
	return all
}

// forgetOnPages empties the places of the pictures on all drafts, in the history of the
// pages, and takes away the earlier live versions that show them.
func (d *Desk) forgetOnPages(s store.Records, e *erasing) error {
	gone := e.numbers()
	for _, page := range e.pages {
		versions, files, err := s.ForgetLiveVersions(page, gone)
		if err != nil {
			return err
		}
		e.reached["earlier live version"] += versions
		e.files = append(e.files, files...)
		p, err := s.Page(page)
		if errors.Is(err, store.ErrNotFound) {
			p, err = s.DroppedPage(page)
		}
		if err != nil {
			return err
		}
		on := e.reached["place on a draft"]
		for _, id := range gone {
			if p.Shows(id) {
				p.Doc = p.Doc.Forgetting(id)
				e.reached["place on a draft"]++
			}
		}
		if e.reached["place on a draft"] > on {
			if err := s.AddPageStep(&p, "A picture was erased", d.Person.Name, d.Now()); err != nil {
				return err
			}
		}
		if err := s.ForgetOnSteps(page, gone, e.rewrite); err != nil {
			return err
		}
		if err := s.SetReport(page, ""); err != nil { // it names the files that were looked at
			return err
		}
	}
	return nil
}

// forgetInAlbums takes the pictures out of all albums and their histories.
func (d *Desk) forgetInAlbums(s store.Records, e *erasing) error {
	for _, p := range e.pictures {
		in, err := s.AlbumsWith(p.ID)
		if err != nil {
			return err
		}
		e.reached["place in an album"] += len(in)
	}
	return s.ForgetInAlbums(e.numbers(), e.rewrite)
}

// forgetInBanners takes the pictures off all banners, live ones, too, and out of their
// histories.
func (d *Desk) forgetInBanners(s store.Records, e *erasing) error {
	for _, p := range e.pictures {
		on, err := s.BannersWith(p.ID)
		if err != nil {
			return err
		}
		e.reached["banner"] += len(on)
		if slices.ContainsFunc(on, func(b store.Banner) bool { return b.Live != nil && b.Live.Picture == p.ID }) {
			e.seen = d.Now()
		}
	}
	return s.ForgetInBanners(e.numbers(), e.rewrite, d.Now())
}

// erasedText stands where words about an erased picture stood.
const erasedText = "Something was done with a picture that was erased"

// rewrite takes what was said with the pictures out of a line of history and, where
// asked, every line that names one.
func (e *erasing) rewrite(line string) string {
	if e.says(line, e.said, false) || e.Names && e.says(line, e.names, true) {
		return erasedText
	}
	return line
}

// says reports whether one of some words stands in a line: quoted, or, with bare, by
// itself.
func (e *erasing) says(line string, all []string, bare bool) bool {
	for _, w := range all {
		if !strings.Contains(line, w) {
			continue
		}
		if strings.Contains(line, "“"+w+"”") || utf8.RuneCountInString(w) >= 12 {
			return true
		}
		if bare && regexp.MustCompile(`(^|[^\p{L}\p{N}_-])`+regexp.QuoteMeta(w)+`($|[^\p{L}\p{N}_-])`).MatchString(line) {
			return true
		}
	}
	return false
}

// forgetPictures takes the pictures out of the records.
func (d *Desk) forgetPictures(s store.Records, e *erasing) error {
	for _, p := range e.pictures {
		if err := s.RemovePicture(p.ID); err != nil {
			return err
		}
		e.reached["picture"]++
	}
	return nil
}

// forgetSheets takes screenshots from under the ruler that are the same files.
func (d *Desk) forgetSheets(s store.Records, e *erasing) error {
	var sources []string
	for _, p := range e.pictures {
		sources = append(sources, p.OriginalHash, p.ArrivedHash)
	}
	sheets, err := s.SheetsOf(sources)
	if err != nil {
		return err
	}
	for _, sheet := range sheets {
		if err := s.DropSheet(sheet.ID); err != nil {
			return err
		}
		e.files = append(e.files, sheet.Hash)
		e.reached["screenshot under the ruler"]++
	}
	return nil
}

// forgetInTrail takes the words, and where asked the names, out of the trail. Its chain
// stays whole.
func (d *Desk) forgetInTrail(s store.Records, e *erasing) error {
	for _, p := range e.pictures {
		entries, err := s.TracesSaying(p.ID, append(slices.Clone(e.said), e.names...))
		if err != nil {
			return err
		}
		var redact, keepName []uint
		for _, t := range entries {
			switch about := t.PictureID == p.ID; {
			case about && e.Names, e.rewrite(t.What) != t.What:
				redact = append(redact, t.ID)
			case about:
				keepName = append(keepName, t.ID)
			}
		}
		if err := s.Redact(redact, erasedText); err != nil {
			return err
		}
		if err := s.Redact(keepName, "Something was done with "+access.NameOr(p)+", which was erased"); err != nil {
			return err
		}
		e.reached["line of the trail"] += len(redact) + len(keepName)
	}
	return nil
}

// fewBackups is how many are told one by one.
const fewBackups = 5

// outOfReach tells what is beyond erasing: copies with visitors, and backups.
func (d *Desk) outOfReach(s store.Records, e *erasing) error {
	until := e.seen.Add(time.Duration(d.Rules().Placing.CacheHours) * time.Hour)
	if until.After(d.Now()) {
		e.left = append(e.left, "copies that visitors' browsers keep, until "+until.Format("2 Jan 2006, 15:04")+", and whatever visitors have saved themselves")
	}
	byHand, byThemselves, err := s.BackupsSince(e.pictures[0].CreatedAt)
	if err != nil {
		return err
	}
	backups := byHand
	switch {
	case d.backupsTo == "":
		backups = append(backups, byThemselves...)
		slices.SortFunc(backups, time.Time.Compare)
	case len(byThemselves) > 0:
		e.left = append(e.left, "the backups in "+d.backupsTo+", out of which it is taken within minutes: the trail will tell")
	}
	if n := len(backups); n > fewBackups { // those that are written every day
		e.left = append(e.left, fmt.Sprintf("the backups from %s to %s, of which %d were written, as far as they are kept", backups[0].Format("2 Jan 2006"), backups[n-1].Format("2 Jan 2006"), n))
		backups = nil
	}
	for _, at := range backups {
		e.left = append(e.left, "the backup of "+at.Format("2 Jan 2006, 15:04"))
	}
	e.left = append(e.left, "copies of the data folder that were made by other means")
	return atDestinations(s, e)
}

// atDestinations tells what destinations still have. It is taken away when they are sent to next.
func atDestinations(s store.Records, e *erasing) error {
	sent, err := s.SentOf(e.numbers())
	if err != nil || len(sent) == 0 {
		return err
	}
	all, err := s.Destinations()
	if err != nil {
		return err
	}
	for _, to := range all {
		n := 0
		for _, f := range sent {
			if f.DestinationID == to.ID {
				n++
			}
		}
		switch {
		case n > 0 && to.Paused:
			e.left = append(e.left, fmt.Sprintf("%s at %s, to which nothing is sent: they stay there until somebody sends to it again", access.Count(n, "file"), to.Title))
		case n > 0:
			e.left = append(e.left, fmt.Sprintf("%s at %s, which are taken away there within minutes", access.Count(n, "file"), to.Title))
		}
	}
	return nil
}

// inWords lists what was reached.
func (e *erasing) inWords() []string {
	var all []string
	for _, what := range []string{"picture", "place on a draft", "place in an album", "banner", "live page", "earlier live version", "screenshot under the ruler", "line of the trail"} {
		if n := e.reached[what]; n == 1 {
			all = append(all, "1 "+what)
		} else if n > 1 {
			first, rest, _ := strings.Cut(what, " ")
			all = append(all, strings.TrimSpace(fmt.Sprintf("%d %s", n, plural(first, rest))))
		}
	}
	n := 0
	for i, f := range e.files {
		if f != "" && !slices.Contains(e.files[:i], f) {
			n++
		}
	}
	return append(all, access.Count(n, "file"))
}

// plural is several of a thing of more than one word: places on a draft.
func plural(first, rest string) string {
	if first == "live" || first == "earlier" {
		return first + " " + rest + "s"
	}
	return strings.TrimSpace(first + "s " + rest)
}
