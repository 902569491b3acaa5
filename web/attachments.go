package web

import (
	"mime"
	"net/http"

	"github.com/go-chi/chi/v5"

	"mivlet/core/rules"
	"mivlet/store"
)

// attachmentRoutes are the files that visitors can download, on the shelves.
func (s *server) attachmentRoutes(r chi.Router) {
	r.Get("/files", s.attachments)
	r.Get("/files/{id}/open", s.openAttachment)
	r.Post("/files/{id}/title", s.titleAttachment)
	r.Post("/files/{id}/throw-away", s.throwAttachmentAway)
	r.Post("/files/{id}/bring-back", s.bringAttachmentBack)
	r.Post("/files/{id}/delete", s.deleteAttachment)
	r.Post("/pages/{id}/offer", s.offer)
}

// attachmentsView is the screen of the files to download.
type attachmentsView struct {
	Rules      rules.Rules
	On, Thrown []store.Attachment
}

// SectionTitle is what a section is called.
func (v attachmentsView) SectionTitle(code string) string {
	section, _ := v.Rules.Section(code)
	return section.Title
}

func (s *server) attachments(w http.ResponseWriter, r *http.Request) {
	d := s.at(r)
	v := attachmentsView{Rules: d.Rules()}
	var err error
	if v.On, v.Thrown, err = d.Attachments.Kept(); err != nil {
		s.fail(w, r, err)
		return
	}
	s.screen(w, r, "files", "Files to download", "shelves", v)
}

// attachmentsChanged shows the screen after an act, or why it was refused.
func (s *server) attachmentsChanged(w http.ResponseWriter, r *http.Request, err error) {
	switch {
	case err != nil:
		s.fail(w, r, err)
	case fromHTMX(r):
		s.attachments(w, r)
	default:
		http.Redirect(w, r, "/files", http.StatusSeeOther)
	}
}

func (s *server) titleAttachment(w http.ResponseWriter, r *http.Request) {
	s.attachmentsChanged(w, r, s.at(r).Attachments.SetTitle(id(r), r.FormValue("title")))
}

func (s *server) throwAttachmentAway(w http.ResponseWriter, r *http.Request) {
	s.attachmentsChanged(w, r, s.at(r).Attachments.ThrowAway(id(r)))
}

func (s *server) bringAttachmentBack(w http.ResponseWriter, r *http.Request) {
	s.attachmentsChanged(w, r, s.at(r).Attachments.BringBack(id(r)))
}

func (s *server) deleteAttachment(w http.ResponseWriter, r *http.Request) {
	s.attachmentsChanged(w, r, s.at(r).Attachments.Delete(id(r)))
}

// openAttachment hands a file out to be kept; it is never opened in the browser.
func (s *server) openAttachment(w http.ResponseWriter, r *http.Request) {
	f, a, err := s.at(r).Attachments.Open(id(r))
	if err == nil {
		w.Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": a.Name}))
	}
	s.serveFile(w, r, f, err, "private, no-cache")
}

// offer offers a file of the shelves in a gap of a page.
func (s *server) offer(w http.ResponseWriter, r *http.Request) {
	_, err := s.at(r).Attachments.Place(id(r), gapOf(r), number(r.FormValue("file")))
	s.pageChanged(w, r, err)
}
