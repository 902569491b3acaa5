package web

import (
	"bytes"
	"fmt"
	"html/template"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"github.com/go-chi/chi/v5"

	"mivlet/core/layout"
	"mivlet/core/naming"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/house"
	"mivlet/desk/jobs"
	"mivlet/store"
	"mivlet/web/drawing"
)

func (s *server) rulesRoutes(r chi.Router) {
	r.Get("/rules", s.rules)
	r.Post("/rules/set", s.setRule)
	r.Post("/rules/add", s.addRule)
	r.Post("/rules/join", s.joinCategories)
	r.Post("/rules/spot-size", s.sizeSpot)
	r.Post("/rules/types", s.addType)
	r.Post("/rules/remove", s.removeRule)
	r.Post("/rules/move", s.moveRule)
	r.Post("/rules/drop", s.dropRules)
	r.Post("/rules/apply", s.applyRules)
	r.Post("/rules/import", s.importRules)
	r.Post("/rules/ready", s.readyRules)
	r.Get("/welcome", s.welcome)
	r.Post("/welcome", s.beginHouse)
	r.Post("/welcome/invite", s.inviteFirst)
	r.Post("/welcome/page", s.firstPage)
	r.Post("/rules/bring-back", s.bringBackRules)
	r.Get("/rules/export", s.exportRules)
	r.Get("/rules/schema.json", s.rulesSchema)
	r.Get("/rules/proof", s.proof)
	r.Post("/rules/lighter", s.tryLighter)
}

// rulesParts are the leaves of the station.
var rulesParts = []struct{ ID, Title string }{
	{"page", "Page frame"}, {"slots", "Slots"}, {"types", "Types taken"}, {"limits", "Limits, placing"}, {"names", "Names"}, {"words", "Words"}, {"sections", "Sections"}, {"categories", "Categories"}, {"spots", "Spots"}, {"history", "History"},
}

// rulesView is the House rules station.
type rulesView struct {
	house.RulesDraft
	Part     string
	Pattern  rules.Pattern
	Device   layout.Device
	Sheet    drawing.Sheet
	Sums     []sum
	Touches  []house.Touch
	Keeper   bool
	same     []string // titles of what is the same in all houses
	Versions []store.RulesVersion
	Compared []rules.Change
	From, To uint
	People   map[string][]access.Person
	Opened   string          // the path of what is asked for, such as /slots/column
	Example  naming.Proposal // a real picture, named by the draft
	Shown    store.Picture
	Job      *jobs.Progress
}

// sum is the arithmetic of one slot, in words.
type sum struct {
	Title string
	Text  string
}

// Parts lists the leaves of the station.
func (v rulesView) Parts() any { return rulesParts }

// textStyle is a style of paragraphs on the screen of the rules, on one device.
type textStyle struct {
	Style, Title, Device string
	Size                 int // of its letters, in CSS px
}

// TextStyles lists how large each style is on each device, the largest screen first.
func (v rulesView) TextStyles() []textStyle {
	titles := map[string]string{rules.Lead: "Lead", rules.Small: "Small", rules.Note: "Note"}
	var all []textStyle
	for _, style := range rules.TextStyles {
		for _, d := range []layout.Device{layout.Desktop, layout.Tablet, layout.Phone} {
			all = append(all, textStyle{style, titles[style], d.String(), v.Rules.TextSizes.Of(style).On(d)})
		}
	}
	return all
}

// Devices lists the devices that the drawing can show.
func (v rulesView) Devices() [3]layout.Device { return layout.Devices }

// Signs lists the signs of sections.
func (v rulesView) Signs() []string { return rules.Signs }

// Ready lists the rules one can start from.
func (v rulesView) Ready() []rules.Ready { return rules.ReadyMade() }

// Targets lists what a type can be converted to.
func (v rulesView) Targets() []string { return rules.Targets() }

// DateForms lists the forms of a date in a name.
func (v rulesView) DateForms() []string { return naming.DateForms }

// FreeParts lists the parts of a name that are not used.
func (v rulesView) FreeParts() []naming.Kind {
	return slices.DeleteFunc(slices.Clone(naming.Kinds), func(k naming.Kind) bool {
		return slices.ContainsFunc(v.Rules.Naming.Parts, func(p naming.Part) bool { return p.Kind == k })
	})
}

// Open reports whether what lies at a path is shown open: it is asked for, or has a fault.
func (v rulesView) Open(path string) bool { return path == v.Opened || v.Fault(path) != "" }

// Fault is why the value at a path cannot be.
func (v rulesView) Fault(path string) string {
	for _, f := range v.Faults {
		if f.At == path {
			return f.Text
		}
	}
	return ""
}

// SameInAll says which parts are the same in all houses; it is empty where none is.
func (v rulesView) SameInAll() string {
	if len(v.same) == 0 {
		return ""
	}
	return words.Listed(v.same)
}

func (s *server) rules(w http.ResponseWriter, r *http.Request) { s.showRules(w, r, nil) }

func (s *server) showRules(w http.ResponseWriter, r *http.Request, job *jobs.Progress) {
	v, err := s.rulesView(r)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	v.Job = job
	s.screen(w, r, "rules", "House rules", "rules", v)
}

func (s *server) rulesView(r *http.Request) (rulesView, error) {
	d := s.at(r)
	draft, err := d.House.RulesDraft()
	if err != nil {
		return rulesView{}, err
	}
	v := rulesView{RulesDraft: draft, Part: r.FormValue("part"), Opened: r.FormValue("open"), Keeper: d.Who().Keeper, Device: layout.Desktop, same: d.House.SameInAll()}
	if !slices.ContainsFunc(rulesParts, func(p struct{ ID, Title string }) bool { return p.ID == v.Part }) {
		v.Part = "page"
	}
	if v.Keeper && len(draft.Changes) > 0 && len(draft.Faults) == 0 {
		if v.Touches, err = d.House.DryRun(); err != nil {
			return v, err
		}
	}
	switch v.Part {
	case "page":
		v.drawLayout(r)
	case "sections":
		v.People = map[string][]access.Person{}
		for _, section := range draft.Rules.Sections {
			if v.People[section.Code], err = d.People.SectionPeople(section.Code); err != nil {
				return v, err
			}
		}
	case "names":
		v.Shown, v.Example, err = d.Pictures.ExampleName(draft.Rules)
	case "history":
		err = v.compare(r, d)
	}
	return v, err
}

func (v *rulesView) drawLayout(r *http.Request) {
	p, ok := v.Rules.Pattern(r.FormValue("pattern"))
	if !ok {
		p, ok = v.Rules.Pattern("two")
	}
	if !ok {
		p = v.Rules.Page.Patterns[0]
	}
	v.Pattern = p
	for _, d := range layout.Devices {
		if d.String() == r.FormValue("device") {
			v.Device = d
		}
	}
	viewport := v.Device.Viewport()
	if v.Device == layout.Desktop {
		viewport = max(viewport, v.Rules.Page.Cap+80)
	}
	v.Sheet = drawing.Layout(v.Rules, p, viewport, 760)
	for _, slot := range v.Rules.Slots {
		if slot.Pattern == p.ID {
			v.Sums = append(v.Sums, sum{slot.Title, v.Rules.Place(slot).Explain(viewport, slot.Sharpest())})
		}
	}
	if len(v.Sums) == 0 {
		for i := range p.Shares {
			place := layout.Place{Section: v.Rules.SectionOf(p), Column: i}
			v.Sums = append(v.Sums, sum{fmt.Sprintf("Column %d", i+1), place.Explain(viewport, 2)})
		}
	}
}

func (v *rulesView) compare(r *http.Request, d *desk.Desk) error {
	var err error
	if v.Versions, err = d.House.RulesVersions(); err != nil || len(v.Versions) == 0 {
		return err
	}
	v.To, v.From = number(r.FormValue("to")), number(r.FormValue("from"))
	if v.To == 0 {
		v.To = v.Versions[0].ID
	}
	if !r.Form.Has("from") && len(v.Versions) > 1 {
		v.From = v.Versions[1].ID
	}
	v.Compared, err = d.House.CompareRules(v.From, v.To)
	return err
}

// changeRules makes one change to the draft and shows the station again.
func (s *server) changeRules(w http.ResponseWriter, r *http.Request, change func(rules.Rules) (rules.Rules, error)) {
	s.rulesChanged(w, r, s.at(r).House.ChangeRules(change))
}

func (s *server) rulesChanged(w http.ResponseWriter, r *http.Request, err error) {
	switch {
	case err != nil:
		s.fail(w, r, err)
	case fromHTMX(r):
		s.showRules(w, r, nil)
	default:
		http.Redirect(w, r, "/rules?part="+r.FormValue("part"), http.StatusSeeOther)
	}
}

func (s *server) setRule(w http.ResponseWriter, r *http.Request) {
	path, value := r.FormValue("path"), strings.Join(r.Form["value"], ", ")
	s.changeRules(w, r, func(rs rules.Rules) (rules.Rules, error) { return rs.Set(path, value) })
}

func (s *server) addRule(w http.ResponseWriter, r *http.Request) {
	list, key, title := r.FormValue("list"), strings.TrimSpace(r.FormValue("key")), strings.TrimSpace(r.FormValue("title"))
	if key == "" {
		key = naming.Identifier(title)
	}
	width := whole(r, "width", 0)
	add := func(rs rules.Rules) (rules.Rules, error) {
		out, err := rs.Add(list, key, title)
		if err == nil && list == "slots" && width > 0 {
			side := "width"
			if r.FormValue("upright") != "" {
				side = "height"
				if out, err = out.Set("/slots/"+key+"/width", "0"); err != nil {
					return rs, err
				}
			}
			out, err = out.Set("/slots/"+key+"/"+side, fmt.Sprint(width))
		}
		return out, err
	}
	if r.FormValue("then") != "open" {
		s.changeRules(w, r, add)
		return
	}
	if err := s.at(r).House.ChangeRules(add); err != nil {
		s.fail(w, r, err)
		return
	}
	at := "/" + list + "/" + key // it was asked for elsewhere: one goes to where it stands now
	s.goOn(w, r, "/rules?"+url.Values{"part": {list}, "open": {at}}.Encode()+"#t"+at)
}

// joinCategories joins one category to another; see [rules.Rules.Join].
func (s *server) joinCategories(w http.ResponseWriter, r *http.Request) {
	s.changeRules(w, r, func(rs rules.Rules) (rules.Rules, error) { return rs.Join(r.FormValue("from"), r.FormValue("to")) })
}

// sizeSpot gives a spot, or its phones, one of the usual sizes in one act.
func (s *server) sizeSpot(w http.ResponseWriter, r *http.Request) {
	at, phone := "/spots/"+r.FormValue("spot"), r.FormValue("phone")
	s.changeRules(w, r, func(rs rules.Rules) (rules.Rules, error) {
		out, err := rs.Set(at+"/"+phone+"width", r.FormValue("width"))
		if err != nil {
			return rs, err
		}
		return out.Set(at+"/"+phone+"height", r.FormValue("height"))
	})
}

// SpotSizes lists the usual sizes of spots.
func (v rulesView) SpotSizes() []rules.SpotSize { return rules.SpotSizes }

// StandsOn reports whether a spot says that it stands on something.
func (v rulesView) StandsOn(s rules.Spot, on string) bool { return slices.Contains(s.On, on) }

// BesideFrom is the narrowest window in which a spot stands beside the content, in CSS px.
func (v rulesView) BesideFrom(s rules.Spot) int { return page.BesideFrom(v.Rules, s) }

// SpotWord says a choice for a spot in words.
func (v rulesView) SpotWord(choice any) string {
	return map[string]string{"above": "above the content", "below": "below the content", "beside": "beside the content", "block": "where it is put on a page",
		"turns": "by turns", "order": "the first has it", "share": "by share", "nothing": "nothing, and no hole", "own": "a banner of the house’s own"}[fmt.Sprint(choice)]
}

func (s *server) addType(w http.ResponseWriter, r *http.Request) {
	t := rules.Type{Title: r.FormValue("title"), MediaType: strings.ToLower(strings.TrimSpace(r.FormValue("media_type"))), Extension: r.FormValue("extension"),
		Bytes: strings.ReplaceAll(r.FormValue("bytes"), " ", ""), Do: rules.Do(r.FormValue("do")), Say: r.FormValue("say")}
	s.changeRules(w, r, func(rs rules.Rules) (rules.Rules, error) { return rs.AddType(t) })
}

func (s *server) removeRule(w http.ResponseWriter, r *http.Request) {
	s.changeRules(w, r, func(rs rules.Rules) (rules.Rules, error) { return rs.Remove(r.FormValue("path")) })
}

func (s *server) moveRule(w http.ResponseWriter, r *http.Request) {
	s.changeRules(w, r, func(rs rules.Rules) (rules.Rules, error) {
		return rs.Move(r.FormValue("path"), whole(r, "by", 0))
	})
}

func (s *server) dropRules(w http.ResponseWriter, r *http.Request) {
	s.rulesChanged(w, r, s.at(r).House.DropRulesDraft())
}

func (s *server) bringBackRules(w http.ResponseWriter, r *http.Request) {
	s.rulesChanged(w, r, s.at(r).House.BringBackRules(number(r.FormValue("version"))))
}

func (s *server) readyRules(w http.ResponseWriter, r *http.Request) {
	ready, ok := readyMade(r.FormValue("ready"))
	if !ok {
		s.fail(w, r, &access.Refusal{Kind: access.Missing, What: "There are no such rules.", Next: "Choose one of those offered."})
		return
	}
	s.changeRules(w, r, func(now rules.Rules) (rules.Rules, error) {
		ready.House, ready.Sections = now.House, now.Sections // what is the house's own stays
		return ready, nil
	})
}

// readyMade are the rules of a name that one can start from.
func readyMade(name string) (rules.Rules, bool) {
	for _, ready := range rules.ReadyMade() {
		if ready.ID == name {
			return ready.Rules, true
		}
	}
	return rules.Rules{}, false
}

func (s *server) applyRules(w http.ResponseWriter, r *http.Request) {
	job, err := s.at(r).House.ApplyRules(r.FormValue("why"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	if !fromHTMX(r) {
		http.Redirect(w, r, "/rules", http.StatusSeeOther)
		return
	}
	p := job.Progress()
	s.showRules(w, r, &p)
}

func (s *server) importRules(w http.ResponseWriter, r *http.Request) {
	f, _, err := r.FormFile("file")
	if err != nil {
		s.fail(w, r, &access.Refusal{Kind: access.Bad, What: "No file was sent.", Next: "Choose a file of house rules (JSON)."})
		return
	}
	defer f.Close()
	data, err := io.ReadAll(f)
	if err == nil {
		err = s.at(r).House.ImportRules(data)
	}
	s.rulesChanged(w, r, err)
}

func (s *server) exportRules(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Content-Type", "application/json; charset=utf-8")
	w.Header().Set("Content-Disposition", `attachment; filename="house-rules.json"`)
	_, _ = w.Write(s.at(r).Rules().Encode())
}

func (s *server) rulesSchema(w http.ResponseWriter, _ *http.Request) {
	w.Header().Set("Content-Type", "application/schema+json")
	_, _ = w.Write(rules.Schema())
}

// tryLighter tells what other formats beside JPEG would save.
func (s *server) tryLighter(w http.ResponseWriter, r *http.Request) {
	saving, err := s.at(r).House.TryLighter()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.part(w, "rules", "lighter-trial", saving)
}

// proof is a page with nothing but the columns of a pattern and a box in each
// slot of it, laid out by the stylesheet of the site: for looking at, and for
// measuring.
func (s *server) proof(w http.ResponseWriter, r *http.Request) {
	rs := s.at(r).Rules()
	p, ok := rs.Pattern(r.FormValue("pattern"))
	if !ok {
		s.fail(w, r, &access.Refusal{Kind: access.Missing, What: "There is no such column plan.", Next: "Choose one of the house's column plans."})
		return
	}
	var b bytes.Buffer
	page.Proof(&b, rs, p)
	s.write(w, "proof", "proof", http.StatusOK, template.HTML(b.String())) //nolint:gosec // made and escaped by core/page
}
