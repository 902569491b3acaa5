package web

import (
	"cmp"
	"fmt"
	"net/http"
	"slices"

	"github.com/go-chi/chi/v5"

	"mivlet/core/fit"
	"mivlet/core/survey"
	"mivlet/core/words"
	"mivlet/desk/jobs"
	"mivlet/desk/rounds"
	"mivlet/sentences"
	"mivlet/store"
)

// findingsRoutes are the station of what is wrong with the live site.
func (s *server) findingsRoutes(r chi.Router) {
	r.Get("/findings", s.findings)
	r.Post("/findings/go", s.goRound)
	r.Post("/findings/leave", s.decideFindings((*rounds.Desk).Leave))
	r.Post("/findings/take-up", s.decideFindings((*rounds.Desk).TakeUp))
}

// placeView is a site with what is wrong with it.
type placeView struct {
	rounds.Place
	Job    *jobs.Progress
	Kinds  []kindView
	Left   []kindView
	Health []healthView
	MayGo  bool
}

// kindView is things that are wrong in the same way.
type kindView struct {
	Title  string
	Level  words.Level
	Weighs string // what they cost together
	Things []rounds.Thing
	Mine   []uint // those that whoever looks may decide about
}

func (s *server) findings(w http.ResponseWriter, r *http.Request) {
	v, err := s.at(r).Rounds.View()
	if err != nil {
		s.fail(w, r, err)
		return
	}
	var all []placeView
	for _, p := range v.Places {
		all = append(all, placeView{Place: p, Job: s.progressOf(r, p.Going), Kinds: kindsOf(p.Open), Left: kindsOf(p.Left), Health: healthOf(p.Before), MayGo: v.MayGo})
	}
	s.screen(w, r, "findings", "Findings", "findings", all)
}

// severity orders levels, the worst first.
var severity = []words.Level{words.Stop, words.Warn, words.Hint}

// kindsOf gathers what is wrong in the same way, the worst first, then what is more.
func kindsOf(things []rounds.Thing) (all []kindView) {
	at := map[survey.Code]int{}
	bytes := map[survey.Code]int64{}
	for _, t := range things {
		code := t.Finding.Code
		i, there := at[code]
		if !there {
			i = len(all)
			at[code] = i
			all = append(all, kindView{Title: sentences.SurveyedKind(code), Level: t.Finding.Level})
		}
		bytes[code] += t.Finding.Cost.Bytes
		all[i].Things = append(all[i].Things, t)
		if t.MayDecide {
			all[i].Mine = append(all[i].Mine, t.ID)
		}
		if bytes[code] > 0 {
			all[i].Weighs = fit.Weight(bytes[code])
		}
	}
	slices.SortStableFunc(all, func(a, b kindView) int {
		return cmp.Or(cmp.Compare(slices.Index(severity, a.Level), slices.Index(severity, b.Level)), cmp.Compare(len(b.Things), len(a.Things)))
	})
	return all
}

// Says is what a thing says, and what to do.
func (kindView) Says(t rounds.Thing) [2]string {
	what, way := sentences.Surveyed(t.Finding)
	return [2]string{what, way}
}

// First are the first things of a kind, which are listed.
func (v kindView) First() []rounds.Thing { return v.Things[:min(len(v.Things), shownOfKind)] }

// healthView draws one measure of a site over its rounds, as heights above a line.
type healthView struct {
	Title     string
	Bars      []healthBar
	Was, Now  string
	Since     string // when the first of them was
	Unchanged bool
}

// healthBar is one round.
type healthBar struct{ X, Y int }

// Of the drawing: its size, how many rounds are in it at most, and where its foot is.
const (
	healthWidth, healthHeight = 240, 48
	healthRounds              = 60
	healthFoot                = 44
)

// healthOf draws how a site fared.
func healthOf(before []store.Round) []healthView {
	if len(before) == 0 {
		return nil
	}
	if len(before) > healthRounds {
		before = before[len(before)-healthRounds:]
	}
	return []healthView{
		health("Pictures that come with a page", before, func(s survey.Sum) int64 { return s.PerPage }, fit.Weight),
		health("Pictures without a description", before, func(s survey.Sum) int64 { return int64(s.Undescribed) }, plainNumber),
		health("Pictures that tell where they were taken", before, func(s survey.Sum) int64 { return int64(s.Positions) }, plainNumber),
	}
}

func plainNumber(n int64) string { return fmt.Sprint(n) }

func health(title string, before []store.Round, of func(survey.Sum) int64, text func(int64) string) healthView {
	v := healthView{Title: title, Was: text(of(before[0].Sum)), Now: text(of(before[len(before)-1].Sum)), Since: before[0].At.Format("2 Jan 2006")}
	v.Unchanged = len(before) == 1 || v.Was == v.Now
	most := int64(1)
	for _, r := range before {
		most = max(most, of(r.Sum))
	}
	for i, r := range before {
		x := healthWidth / 2
		if len(before) > 1 {
			x = 4 + i*(healthWidth-8)/(len(before)-1)
		}
		v.Bars = append(v.Bars, healthBar{x, healthFoot - int(of(r.Sum)*(healthFoot-6)/most)})
	}
	return v
}

func (s *server) goRound(w http.ResponseWriter, r *http.Request) {
	if _, err := s.at(r).Rounds.Go(number(r.FormValue("place"))); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/findings")
}

// decideFindings answers a decision about things, by their numbers.
func (s *server) decideFindings(decide func(*rounds.Desk, []uint) error) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		_ = r.ParseForm() // what cannot be read is empty
		var ids []uint
		for _, text := range r.Form["found"] {
			ids = append(ids, number(text))
		}
		if err := decide(s.at(r).Rounds, ids); err != nil {
			s.fail(w, r, err)
			return
		}
		if fromHTMX(r) {
			s.findings(w, r)
			return
		}
		http.Redirect(w, r, "/findings", http.StatusSeeOther)
	}
}
