package house

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/jobs"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// RulesDraft is what a keeper is changing, beside the rules that hold.
type RulesDraft struct {
	Rules   rules.Rules
	Changes []rules.Change
	Faults  rules.Faults // why it cannot be applied as it is
	Stale   bool         // others have applied changes since it was begun
}

// RulesDraft returns the draft of whoever is at the desk, or the rules that
// hold where nothing was changed.
func (d *Desk) RulesDraft() (RulesDraft, error) {
	if err := d.MayLook(); err != nil {
		return RulesDraft{}, err
	}
	now := d.Held()
	kept, err := d.Store.RulesDraft(d.Person.ID)
	if errors.Is(err, store.ErrNotFound) {
		return RulesDraft{Rules: now.Rules}, nil
	}
	if err != nil {
		return RulesDraft{}, err
	}
	r, err := rules.ParseDraft([]byte(kept.Doc))
	if err != nil {
		return RulesDraft{Rules: now.Rules}, nil // of an older form: begin anew
	}
	return RulesDraft{r, rules.Compare(now.Rules, r), slices.Concat(r.Check(), d.Given().Refused(r)), kept.Base != now.Number}, nil
}

// ChangeRules makes one change to the draft of whoever is at the desk. Nothing
// holds until it is applied.
func (d *Desk) ChangeRules(change func(rules.Rules) (rules.Rules, error)) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	draft, err := d.RulesDraft()
	if err != nil {
		return err
	}
	r, err := change(draft.Rules)
	if err != nil {
		return rulesRefusal(err)
	}
	now := d.Held()
	if len(rules.Compare(now.Rules, r)) == 0 {
		return d.Store.DropRulesDraft(d.Person.ID)
	}
	return d.Store.SaveRulesDraft(store.RulesDraft{PersonID: d.Person.ID, Base: now.Number, Doc: string(r.Encode()), UpdatedAt: d.Now()})
}

// SameInAll are the titles of the parts of the rules that are, at least in part, the same in all houses.
func (d *Desk) SameInAll() []string { return d.Given().Titles() }

// DropRulesDraft forgets what was changed and not applied.
func (d *Desk) DropRulesDraft() error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	return d.Store.DropRulesDraft(d.Person.ID)
}

// mostFaults is how many places of bad rules are told one by one.
const mostFaults = 12

func rulesRefusal(err error) error {
	var faults rules.Faults
	if !errors.As(err, &faults) {
		return err
	}
	if len(faults) == 1 {
		return access.Because(access.Bad, access.Sentence(faults), "Nothing was changed.", err)
	}
	r := access.Because(access.Bad, access.Count(len(faults), "place")+" in these rules cannot be as they are.", "Nothing was changed.", err)
	for _, f := range faults[:min(len(faults), mostFaults)] {
		r.Each = append(r.Each, access.Sentence(rules.Faults{f}))
	}
	if more := len(faults) - mostFaults; more > 0 {
		r.Each = append(r.Each, fmt.Sprintf("And %d more.", more))
	}
	return r
}

// ImportRules makes a document the draft. A bad one is refused with the places
// and the reasons, and changes nothing.
func (d *Desk) ImportRules(data []byte) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	r, err := rules.Parse(data)
	if err != nil {
		return rulesRefusal(err)
	}
	return d.ChangeRules(func(rules.Rules) (rules.Rules, error) { return r, nil })
}

// Touch is what applying rules would touch for one slot, or altogether.
type Touch struct {
	What     string // such as “Slot Side picture, width: 300 → 320”
	Cuts     int    // made anew
	Pages    []string
	Soft     []string // names of pictures that become soft
	Stranded []string // pictures and pages that use what would be gone
	Publish  []string // titles of live pages to be published again
	Approve  []string // titles of banners to be approved again
	remake   []recut
}

// recut is a picture whose cuts for a slot have to be made anew.
type recut struct {
	picture store.Picture
	slot    rules.Slot
}

// Text tells it in one sentence.
func (t Touch) Text() string {
	var parts []string
	if t.Cuts > 0 {
		parts = append(parts, fmt.Sprintf("%s on %s made anew", access.Count(t.Cuts, "cut"), access.Count(len(t.Pages), "page")))
	}
	if n := len(t.Soft); n > 0 {
		parts = append(parts, fmt.Sprintf("%s become soft: %s", access.Count(n, "picture"), strings.Join(t.Soft, ", ")))
	}
	if n := len(t.Stranded); n > 0 {
		parts = append(parts, "still used by "+strings.Join(t.Stranded, ", "))
	}
	parts = append(parts, t.spotText()...)
	if len(parts) == 0 {
		return "touches nothing that is made"
	}
	return strings.Join(parts, "; ")
}

// DryRun tells what applying the draft would touch, slot by slot, without doing
// it.
func (d *Desk) DryRun() ([]Touch, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	draft, err := d.RulesDraft()
	if err != nil {
		return nil, err
	}
	return d.touches(d.Rules(), draft.Rules)
}

// touches works out what going from one version to another touches.
func (d *Desk) touches(from, to rules.Rules) ([]Touch, error) {
	placed, err := d.placements()
	if err != nil {
		return nil, err
	}
	var all []Touch
	changes := rules.Compare(from, to)
	for _, old := range from.Slots {
		changed, still := to.Slot(old.ID)
		if still && sameSpace(old, changed) {
			continue
		}
		t := Touch{What: slotInWords(old, changed, still, changes)}
		for _, p := range placed[old.ID] {
			if !still {
				t.Stranded = access.AddOnce(t.Stranded, p.page)
				continue
			}
			made, err := d.Store.Cuts(p.picture.ID, d.cuts.CutKey(p.picture, old))
			if err != nil {
				return nil, err
			}
			if len(made) > 0 {
				t.Cuts += len(cuts.PlanOf(p.picture, changed))
				t.Pages = access.AddOnce(t.Pages, p.page)
				t.remake = append(t.remake, recut{p.picture, changed})
			}
			if pictures.SoftnessIn(d.pictures, p.picture, old) == "" && pictures.SoftnessIn(d.pictures, p.picture, changed) != "" {
				t.Soft = access.AddOnce(t.Soft, access.NameOr(p.picture))
			}
		}
		all = append(all, t)
	}
	for _, s := range from.Sections {
		if _, still := to.Section(s.Code); still {
			continue
		}
		n, err := d.Store.CountInSection(s.Code)
		if err != nil {
			return nil, err
		}
		if n > 0 {
			all = append(all, Touch{What: "Section " + s.Title + ": taken out", Stranded: []string{access.Count(int(n), "picture or page") + " of it"}})
		}
	}
	spots, err := d.spotTouches(from, to)
	return append(all, spots...), err
}

// sameSpace reports whether two versions of a slot lead to the same cuts.
func sameSpace(a, b rules.Slot) bool {
	return a.Want() == b.Want() && slices.Equal(a.Scales(), b.Scales()) && a.Budget == b.Budget && slices.Equal(a.Formats, b.Formats)
}

func slotInWords(old, changed rules.Slot, still bool, changes []rules.Change) string {
	if !still {
		return "Slot " + old.Title + ": taken out"
	}
	for _, c := range changes {
		if strings.HasPrefix(c.At, "/slots/"+old.ID+"/") {
			return c.String()
		}
	}
	return fmt.Sprintf("Slot %s, width: %d → %d", old.Title, old.Width, changed.Width)
}

// placement is one picture on one page.
type placement struct {
	page    string
	picture store.Picture
}

// placements returns what stands on pages, by slot, each picture of a page once.
func (d *Desk) placements() (map[string][]placement, error) {
	pages, err := d.Store.Pages()
	if err != nil {
		return nil, err
	}
	var ids []uint
	for _, p := range pages {
		ids = append(ids, p.Doc.Pictures()...)
	}
	slices.Sort(ids)
	pictures, err := d.Store.PicturesIn(slices.Compact(ids))
	if err != nil {
		return nil, err
	}
	all := map[string][]placement{}
	seen := map[string]bool{}
	for _, p := range pages {
		for _, at := range p.Doc.Placements() {
			if at.Waits() {
				continue
			}
			key := fmt.Sprint(at.Picture, at.Slot)
			if seen[key] {
				continue
			}
			seen[key] = true
			if pic, ok := pictures[at.Picture]; ok {
				all[at.Slot] = append(all[at.Slot], placement{p.Doc.Title, pic})
			}
		}
	}
	return all, nil
}

// ApplyRules makes the draft of whoever is at the desk the rules that hold, with
// the reason why, and makes the cuts anew that pages need. It gives the number
// of cuts that are being made. What is in use cannot be taken out.
func (d *Desk) ApplyRules(why string) (*jobs.Job, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	why = strings.TrimSpace(why)
	if why == "" {
		return nil, access.Refuse(access.Bad, "Say why the rules change.", "A successor will want to know.")
	}
	draft, err := d.RulesDraft()
	if err != nil {
		return nil, err
	}
	switch {
	case len(draft.Changes) == 0:
		return nil, access.Refuse(access.Bad, "Nothing was changed.", "Change a value first.")
	case len(draft.Faults) > 0:
		return nil, rulesRefusal(draft.Faults)
	}
	touched, err := d.touches(d.Rules(), draft.Rules)
	if err != nil {
		return nil, err
	}
	for _, t := range touched {
		if len(t.Stranded) > 0 {
			return nil, access.Refuse(access.Clash, t.What+" cannot be: it is "+t.Text()+".", "Move those first, then remove it.")
		}
	}
	if err := d.applyRules(draft.Rules, why); err != nil {
		return nil, err
	}
	return d.remake(touched)
}

// ConfirmRules keeps the rules that hold as a version once more: somebody has looked at them and
// left them as they are.
func (d *Desk) ConfirmRules(why string) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	return d.applyRules(d.Rules(), why)
}

// applyRules makes rules hold. Two that are applied at once come one after the
// other, whole.
func (d *Desk) applyRules(r rules.Rules, why string) error {
	now := d.Held()
	err := d.Store.Tx(func(s store.Records) error {
		_, number, err := s.Rules()
		if err != nil {
			return err
		}
		if number != now.Number {
			return access.Refuse(access.Clash, "Somebody else changed the rules in the meantime.", "Look at the current rules, then apply yours again.")
		}
		if err := s.SaveRules(r, d.Person.Name, why, d.Now()); err != nil {
			return err
		}
		if err := s.DropRulesDraft(d.Person.ID); err != nil {
			return err
		}
		return d.Trace(s, "", "Changed the house rules: %s", why)
	})
	if err != nil {
		return err
	}
	held, number, err := d.Store.Rules()
	if err != nil {
		return err
	}
	d.Hold(held, number)
	return d.regroup()
}

// regroup makes the lists of live pages follow the sections and categories of the house.
func (d *Desk) regroup() error {
	var changed []uint
	err := d.Store.Tx(func(s store.Records) (err error) {
		changed, err = d.lists.Regrouped(s)
		return err
	})
	if err != nil {
		return err
	}
	return d.visit.LookAt(d.Context, changed)
}

// remake makes the cuts anew that a change of the rules touched.
func (d *Desk) remake(touched []Touch) (*jobs.Job, error) {
	var tasks []jobs.Of[cuts.ToCut]
	for _, t := range touched {
		for _, r := range t.remake {
			tasks = append(tasks, jobs.Of[cuts.ToCut]{Steps: len(cuts.PlanOf(r.picture, r.slot)), Of: cuts.CutOf(r.picture.ID, r.slot)})
		}
	}
	return d.cuts.Later("Making cuts anew", tasks)
}

// RulesVersions returns all versions of the rules, newest first.
func (d *Desk) RulesVersions() ([]store.RulesVersion, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	return d.Store.RulesVersions()
}

// CompareRules tells what differs between two versions; 0 stands for the rules
// that were ready-made.
func (d *Desk) CompareRules(a, b uint) ([]rules.Change, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	read := func(id uint) (rules.Rules, error) {
		if id == 0 {
			return rules.Default(), nil
		}
		v, err := d.Store.RulesVersion(id)
		if err != nil {
			return rules.Rules{}, access.NotFound(err, "That version")
		}
		return v.Rules()
	}
	from, err := read(a)
	if err != nil {
		return nil, err
	}
	to, err := read(b)
	return rules.Compare(from, to), err
}

// BringBackRules makes an earlier version the draft.
func (d *Desk) BringBackRules(id uint) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	v, err := d.Store.RulesVersion(id)
	if err != nil {
		return access.NotFound(err, "That version")
	}
	r, err := v.Rules()
	if err != nil {
		return err
	}
	return d.ChangeRules(func(rules.Rules) (rules.Rules, error) { return r, nil })
}
