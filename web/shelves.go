package web

import (
	"cmp"
	"errors"
	"fmt"
	"mime"
	"net/http"
	"net/url"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/address"
	"mivlet/desk/bench"
	"mivlet/desk/pictures"
	"mivlet/desk/shelves"
	"mivlet/desk/withdraw"
	"mivlet/sentences"
	"mivlet/store"
)

func (s *server) shelvesRoutes(r chi.Router) {
	r.Get("/shelves", s.shelves)
	r.Get("/shelves/plan", s.namePlan)
	r.Post("/shelves/rename", s.rename)
	r.Post("/shelves/move", s.moveToFolder)
	r.Post("/shelves/tag", s.tag)
	r.Post("/shelves/throw-away", s.throwSeveral)
	r.Post("/shelves/folder", s.addFolder)
	r.Post("/shelves/folder/drop", s.dropFolder)
	r.Get("/pictures/{id}", s.pictureCard)
	r.Post("/pictures/{id}/variant", s.variant)
	r.Post("/pictures/{id}/tags", s.setTags)
	r.Post("/pictures/{id}/words", s.setCardWords)
	r.Get("/pictures/{id}/cuts/{hash}", s.downloadCut)
	r.Get("/pictures/{id}/take", s.take)
	r.Get("/pictures/{id}/take/words", s.takeWords)
}

// filterWords are the questions that a shelf answers.
var filterWords = []struct{ ID, Text string }{
	{"no-alt", "without a description"}, {"never-placed", "never placed"}, {"heavy", "heavier than the budget"}, {"soft", "soft for its slot"},
	{"position", "position inside the original"}, {"refused", "permission refused"}, {"expiring", "permission ends soon"}, {"this-week", "arrived this week"},
}

var sortWords = []struct{ ID, Text string }{{"newest", "newest first"}, {"rank", "best match"}, {"name", "by name"}, {"taken", "by the day taken"}, {"heavier", "heaviest first"}}

// shelvesView is the Shelves.
type shelvesView struct {
	shelves.ShelfView
	Sections []rules.Section
	Rows     bool // rows instead of thumbnails
	Page     int
	About    string // what the pages are about on which the pictures stand: see [shelves.KeysOfTheme]
	Themes   []rules.Category
	Albums   []store.Album // that ticked pictures can be put into
	Leaving  int           // pictures that are thrown away soon
}

// Filters lists the questions that a shelf answers.
func (shelvesView) Filters() any { return filterWords }

// Sorts lists the orders of a shelf.
func (shelvesView) Sorts() any { return sortWords }

// SignOf returns the sign of a section.
func (v shelvesView) SignOf(code string) string {
	for _, s := range v.Sections {
		if s.Code == code {
			return s.Sign
		}
	}
	return "wave"
}

// FoldersOf returns the folders of a section, without its root.
func (v shelvesView) FoldersOf(code string) []folderView {
	var all []folderView
	for _, f := range v.Folders {
		if f.Section == code && f.Path != "" {
			all = append(all, folderView{f, strings.Count(f.Path, "/"), f.Path[strings.LastIndexByte(f.Path, '/')+1:]})
		}
	}
	return all
}

// CountOf returns how many pictures a section has.
func (v shelvesView) CountOf(code string) int64 {
	var n int64
	for _, f := range v.Folders {
		if f.Section == code {
			n += f.N
		}
	}
	return n
}

type folderView struct {
	store.FolderCount
	Depth int
	Title string
}

// asked are the fields that the shelf was asked for with.
func (v shelvesView) asked() url.Values {
	q := url.Values{}
	for k, val := range map[string]string{"section": v.Query.Section, "folder": v.Query.Folder, "q": v.Query.Text, "filter": v.Query.Filter,
		"sort": string(v.Query.Sort), "person": v.Query.Person, "tag": v.Query.Tag, "about": v.About} {
		if val != "" {
			q.Set(k, val)
		}
	}
	if v.Rows {
		q.Set("view", "rows")
	}
	return q
}

// Kept are the fields that a search keeps: all but its own.
func (v shelvesView) Kept() map[string]string {
	kept := map[string]string{}
	for k, val := range v.asked() {
		if k != "q" && k != "sort" && k != "person" && k != "about" {
			kept[k] = val[0]
		}
	}
	return kept
}

// Last is the number of the last page.
func (v shelvesView) Last() int { return int((v.All + shelves.ShelfPage - 1) / shelves.ShelfPage) }

// With returns the address of the shelf with one field set to another value.
func (v shelvesView) With(pairs ...any) string {
	q := v.asked()
	for i := 0; i+1 < len(pairs); i += 2 {
		q.Set(fmt.Sprint(pairs[i]), fmt.Sprint(pairs[i+1]))
		if fmt.Sprint(pairs[i+1]) == "" {
			q.Del(fmt.Sprint(pairs[i]))
		}
	}
	return "/shelves?" + q.Encode()
}

func (s *server) shelves(w http.ResponseWriter, r *http.Request) {
	theme := r.FormValue("about")
	q := store.ShelfQuery{Themes: shelves.KeysOfTheme(s.at(r).Rules(), theme),
		Section: r.FormValue("section"), Folder: r.FormValue("folder"), Text: r.FormValue("q"), Filter: r.FormValue("filter"),
		Sort: store.Sort(r.FormValue("sort")), Person: r.FormValue("person"), Tag: r.FormValue("tag")}
	page := max(1, whole(r, "page", 1))
	q.Skip = (page - 1) * shelves.ShelfPage
	found, err := s.at(r).Shelves.Shelves(q)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := shelvesView{ShelfView: found, Sections: s.at(r).Rules().Sections, Rows: r.FormValue("view") == "rows", Page: page, About: theme, Themes: s.at(r).Rules().Categories}
	lines, err := s.at(r).Albums.All(false)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	for _, l := range lines {
		if s.at(r).Who().CanWork(l.Section) {
			v.Albums = append(v.Albums, l.Album)
		}
	}
	leaving, err := s.at(r).Retention.Leaving()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v.Leaving = len(leaving)
	s.screen(w, r, "shelves", "Shelves", "shelves", v)
}

// chosen are the numbers of the pictures that are ticked.
func chosen(r *http.Request) []uint {
	if err := r.ParseForm(); err != nil {
		return nil
	}
	var ids []uint
	for _, v := range r.Form["picture"] {
		ids = append(ids, number(v))
	}
	return ids
}

func (s *server) namePlan(w http.ResponseWriter, r *http.Request) {
	plan, err := s.at(r).Pictures.PlanNames(chosen(r), r.FormValue("subject"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "shelves", "plan", plan)
}

func (s *server) rename(w http.ResponseWriter, r *http.Request) {
	names := map[uint]string{}
	for _, id := range chosen(r) {
		names[id] = strings.TrimSpace(r.FormValue(fmt.Sprintf("name-%d", id)))
	}
	s.shelvesChanged(w, r, nameFailure(s.at(r).Pictures.Rename(names)))
}

// nameFailure tells a name that was refused in a sentence.
func nameFailure(err error) error {
	if refused, ok := err.(*pictures.NameRefusal); ok {
		return &access.Refusal{Kind: access.Bad, What: fmt.Sprintf("“%s”: %s", refused.Name, sentences.Problem(refused.Problems[0])), Next: "By the convention: " + refused.Proposal + ". Nothing was renamed.", Err: err}
	}
	return err
}

func (s *server) moveToFolder(w http.ResponseWriter, r *http.Request) {
	s.shelvesChanged(w, r, s.at(r).Shelves.Move(chosen(r), r.FormValue("to")))
}

func (s *server) tag(w http.ResponseWriter, r *http.Request) {
	s.shelvesChanged(w, r, s.at(r).Shelves.Tag(chosen(r), strings.Split(r.FormValue("add"), ","), strings.Split(r.FormValue("take"), ",")))
}

func (s *server) throwSeveral(w http.ResponseWriter, r *http.Request) {
	for _, id := range chosen(r) {
		if err := s.at(r).Shelves.ThrowAway(id); err != nil {
			s.fail(w, r, err)
			return
		}
	}
	s.shelvesChanged(w, r, nil)
}

// throwAwayFrom takes a picture off all pages first.
func (s *server) throwAwayFrom(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Publish.ThrowAwayFrom(r.Context(), id(r), s.opts.Layout); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/arrivals")
}

// withdraw takes a picture off the air.
func (s *server) withdraw(w http.ResponseWriter, r *http.Request) {
	if err := s.at(r).Withdraw.Withdraw(r.Context(), id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/pictures/%d", id(r)))
}

// erase takes a picture away for good and shows the receipt.
func (s *server) erase(w http.ResponseWriter, r *http.Request) {
	if r.FormValue("sure") == "" {
		s.fail(w, r, &access.Refusal{Kind: access.Bad, What: "Nothing brings back what is erased.", Next: "Tick the box that says you know, then erase it."})
		return
	}
	receipt, err := s.at(r).Withdraw.Erase(r.Context(), id(r), withdraw.Erasing{Why: r.FormValue("why"), Variants: r.FormValue("variants") != "", Names: r.FormValue("names") != ""})
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if fromHTMX(r) {
		w.Header().Set("HX-Retarget", "#main")
		w.Header().Set("HX-Reswap", "innerHTML")
	}
	s.screen(w, r, "receipt", "Erased", "shelves", receipt)
}

// original gives the untouched original to take along.
func (s *server) original(w http.ResponseWriter, r *http.Request) {
	f, name, err := s.at(r).Shelves.OpenOriginal(id(r))
	w.Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	s.serveFile(w, r, f, err, "private, no-store")
}

func (s *server) addFolder(w http.ResponseWriter, r *http.Request) {
	folder := strings.Trim(r.FormValue("folder")+"/"+r.FormValue("name"), "/")
	s.shelvesChanged(w, r, s.at(r).Shelves.AddFolder(r.FormValue("section"), folder))
}

func (s *server) dropFolder(w http.ResponseWriter, r *http.Request) {
	err := s.at(r).Shelves.DropFolder(r.FormValue("section"), r.FormValue("folder"))
	if err == nil {
		r.Form.Set("folder", "")
	}
	s.shelvesChanged(w, r, err)
}

// shelvesChanged goes back to the shelf as it was asked for.
func (s *server) shelvesChanged(w http.ResponseWriter, r *http.Request, err error) {
	if err != nil {
		s.fail(w, r, err)
		return
	}
	back := r.FormValue("back")
	if !strings.HasPrefix(back, "/shelves") && !strings.HasPrefix(back, "/pictures/") {
		back = "/shelves"
	}
	s.goOn(w, r, back)
}

// cardView is a picture's card.
type cardView struct {
	shelves.PictureCard
	Rules   rules.Rules
	Words   pictures.Words
	Swap    []string // what wants a look after another file took its place
	Clash   *pictures.WordsClash
	Exposed []bench.Exposure // live pages that show it otherwise than it may be shown now
	Again   []store.Page     // those of them that publishing again mends
	Keeper  bool
}

func (s *server) pictureCard(w http.ResponseWriter, r *http.Request) { s.showCard(w, r, nil) }

// showCard draws a picture's card, with what somebody else wrote meanwhile.
func (s *server) showCard(w http.ResponseWriter, r *http.Request, clash *pictures.WordsClash) {
	c, err := s.at(r).Shelves.PictureCard(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v := cardView{PictureCard: c, Clash: clash, Rules: s.at(r).Rules(), Words: pictures.WordsOf(c.Picture), Swap: r.URL.Query()["note"], Keeper: s.at(r).Who().Keeper}
	if c.CanWork {
		if v.Exposed, err = s.at(r).Bench.Exposures(c.ID); err != nil {
			s.fail(w, r, err)
			return
		}
	}
	for _, e := range v.Exposed {
		if e.Differs && s.at(r).Who().CanPublish(e.Section) {
			v.Again = append(v.Again, e.Page)
		}
	}
	if clash != nil && fromHTMX(r) {
		w.Header().Set("HX-Retarget", "#main")
		w.Header().Set("HX-Reswap", "innerHTML")
	}
	s.screen(w, r, "card", cmp.Or(c.Name, c.OriginalName), "shelves", v)
}

func (s *server) variant(w http.ResponseWriter, r *http.Request) {
	made, err := s.at(r).Shelves.NewVariant(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, fmt.Sprintf("/bench/%d", made))
}

func (s *server) setTags(w http.ResponseWriter, r *http.Request) {
	c, err := s.at(r).Shelves.PictureCard(id(r))
	if err == nil {
		err = s.at(r).Shelves.Tag([]uint{id(r)}, strings.Split(r.FormValue("tags"), ","), c.Tags)
	}
	r.Form.Set("back", fmt.Sprintf("/pictures/%d", id(r)))
	s.shelvesChanged(w, r, err)
}

func (s *server) setCardWords(w http.ResponseWriter, r *http.Request) {
	err := s.at(r).Pictures.SetWords(id(r), whole(r, "seen", noStep), wordsForm(r))
	var clash *pictures.WordsClash
	if errors.As(err, &clash) {
		s.showCard(w, r, clash)
		return
	}
	r.Form.Set("back", fmt.Sprintf("/pictures/%d", id(r)))
	s.shelvesChanged(w, r, err)
}

// wordsForm reads what is said with a picture from a form.
func wordsForm(r *http.Request) pictures.Words {
	return pictures.Words{Alt: r.FormValue("alt"), Decorative: r.FormValue("decorative") != "", Reason: r.FormValue("reason"), Caption: r.FormValue("caption"), LongAlt: r.FormValue("long"),
		Credit: r.FormValue("credit"), Hidden: r.FormValue("hidden")}
}

// swap gives a picture another file, streamed.
func (s *server) swap(w http.ResponseWriter, r *http.Request) {
	name, body := s.streamed(w, r, "the file")
	done, err := s.at(r).Shelves.SwapFile(id(r), name, body)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	q := url.Values{"note": append([]string{"The file was swapped; every placement follows."}, done.Notes...)}
	s.goOn(w, r, fmt.Sprintf("/pictures/%d?%s", id(r), q.Encode()))
}

// downloadCut gives a cut under the name it has on the site.
func (s *server) downloadCut(w http.ResponseWriter, r *http.Request) {
	c, err := s.at(r).Shelves.PictureCard(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	for _, cut := range c.Cuts {
		if cut.Hash == chi.URLParam(r, "hash") {
			f, err := s.at(r).Cuts.OpenCut(cut.Hash)
			w.Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", address.CutFile(c.Picture, cut)))
			s.serveFile(w, r, f, err, "private, no-cache")
			return
		}
	}
	s.fail(w, r, &access.Refusal{Kind: access.Missing, What: "There is no such cut.", Next: "Make it anew on the bench."})
}
