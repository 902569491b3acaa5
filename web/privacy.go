package web

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"mivlet/core/fit"
	"mivlet/desk/access"
	"mivlet/desk/people"
	"mivlet/desk/privacy"
)

func (s *server) privacyRoutes(r chi.Router) {
	r.Get("/privacy", s.privacy)
	r.Post("/privacy/person", s.aboutPerson)
	r.Post("/privacy/person.json", s.aboutPersonJSON)
}

// sessionDays is how many days a session lasts at most.
const sessionDays = int(people.SessionEnds / (24 * time.Hour))

// privacyView is what the house keeps of people.
type privacyView struct {
	privacy.Kept
	About *privacy.About // of one who asked; nil where nobody has
}

// keeping is one line of the record: what is kept, where, for how long, and who sees it.
type keeping struct{ What, Where, Long, Who string }

// Lines are the record.
func (v privacyView) Lines() []keeping {
	folder, until := "Mivlet’s data folder", "until it is thrown away; then "+access.Count(v.BinDays, "day")+" in the bin"
	for _, s := range v.Unused {
		until += fmt.Sprintf("; in %s also after %s without use", s.Title, access.Count(s.UnusedDays, "day"))
	}
	own := "the people of its section, and keepers"
	all := []keeping{
		{fmt.Sprintf("%s: name, sign-in name, what they may do. %s. Passwords and codes are kept so that nobody can read them.", access.Count(v.People, "account"), access.Count(v.SecondSteps, "second step")+", "+access.Count(v.Passkeys, "passkey")),
			folder, fmt.Sprintf("as long as the house; %d may no longer sign in, and their name stays on what they did", v.Away), "keepers; everybody sees who works on what"},
		{"Where people are signed in: the kind of browser, since when, last use", folder, access.Count(v.SessionDays, "day") + " after the sign-in", "only themselves"},
		{fmt.Sprintf("%s as they arrived (%s), with all that cameras write into them: %d with a position", access.Count(v.Pictures, "picture"), fit.Weight(v.Originals), v.Positions), folder, until, own},
		{fmt.Sprintf("Who is seen on pictures, and their answer: %d, of which %d refused", v.Seen, v.Refused), folder, "as long as the picture", own},
		{"Documents that are offered for download, and screens that widths were measured on", folder, "until they are deleted", "who works here; documents also visitors, where a page offers them"},
		{"What was done, by whom and when: " + access.Count(v.Trail, "line"), folder, "for good; names in it go when a picture is erased", "keepers"},
		{fmt.Sprintf("%s with files of pictures. They have no position, no time and no camera in them.", access.Count(v.LivePages, "live page")), "the built-in site", "until taken off", "visitors"},
	}
	if v.FormerSites > 0 {
		all = append(all, keeping{access.Count(v.FormerSites, "former site") + ", as they were made, with all that is in their files", folder, "until a keeper forgets them", "who works here"})
	}
	for _, d := range v.Destinations {
		all = append(all, keeping{"The same pages and files, sent on", d.Title + " (" + d.Base + ")", fmt.Sprintf("until taken off; old styles and sizes for %d hours", d.GraceHours), "its visitors, and whoever runs that server"})
	}
	if v.BackupTo != "" {
		line := keeping{access.Count(v.Backups, "backup") + " of all the above", v.BackupTo, "7 days, 5 weeks and 12 months; what is erased leaves them within minutes", "whoever can read that place"}
		if !v.OldestBackup.IsZero() {
			line.Long += "; the oldest is of " + v.OldestBackup.Format("2 January 2006")
		}
		all = append(all, line)
	}
	if v.BackupsUnknown {
		all = append(all, keeping{"Backups", "their place cannot be read now", "", ""})
	}
	if v.Provider != "" {
		all = append(all, keeping{"Accounts that people sign in with: the address of their account, their name and groups are read at each sign-in", v.Provider, "kept there", "whoever runs it"})
	}
	return append(all, keeping{"Visitors of the built-in site: which files were fetched last, and not by whom", "memory", "until Mivlet ends, the last 200", "whoever opens its page of visits"})
}

func (s *server) privacy(w http.ResponseWriter, r *http.Request) { s.showPrivacy(w, r, nil) }

func (s *server) showPrivacy(w http.ResponseWriter, r *http.Request, about *privacy.About) {
	kept, err := s.at(r).Privacy.Kept(r.Context(), sessionDays)
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "privacy", "What is kept of people", "", privacyView{kept, about})
}

// aboutPerson shows what is kept of one person. What was looked for stands in no address.
func (s *server) aboutPerson(w http.ResponseWriter, r *http.Request) {
	about, err := s.at(r).Privacy.About(r.FormValue("name"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.showPrivacy(w, r, &about)
}

// aboutPersonJSON gives it as a file, for whoever asked.
func (s *server) aboutPersonJSON(w http.ResponseWriter, r *http.Request) {
	about, err := s.at(r).Privacy.About(r.FormValue("name"))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	w.Header().Set("Content-Disposition", `attachment; filename="kept-of-a-person.json"`)
	w.Header().Set("Cache-Control", "no-store")
	out := json.NewEncoder(w)
	out.SetIndent("", "  ")
	out.SetEscapeHTML(false)
	_ = out.Encode(about) // whoever asked has gone
}

// Listed are the words in which somebody is named.
func (privacyView) Listed(in []string) string {
	return strings.ReplaceAll(strings.Join(in, ", "), "_", " ")
}
