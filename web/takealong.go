package web

import (
	"bytes"
	"embed"
	"html/template"
	"io"
	"net/http"

	"mivlet/desk/takealong"
)

//go:embed takealong
var takeAlongFiles embed.FS

var stepsPage = template.Must(template.ParseFS(takeAlongFiles, "takealong/steps.html"))

// takeAlong gives a page as a ZIP for a system in which nothing can be installed.
func (s *server) takeAlong(w http.ResponseWriter, r *http.Request) {
	p, err := s.at(r).Pages.Page(id(r))
	if err != nil {
		s.fail(w, r, err)
		return
	}
	s.sendArchive(w, r, p.Slug+"-to-paste", func(to io.Writer) error { return s.at(r).TakeAlong.Pack(to, id(r), steps) })
}

// steps are the page that leads through it, and what that needs; the page to paste is there by itself, too.
func steps(p takealong.Packed) (map[string][]byte, error) {
	var page bytes.Buffer
	if err := stepsPage.Execute(&page, p); err != nil {
		return nil, err
	}
	all := map[string][]byte{"steps.html": page.Bytes(), "page.html": []byte(p.HTML)}
	for _, name := range []string{"steps.css", "steps.js"} {
		data, err := takeAlongFiles.ReadFile("takealong/" + name)
		if err != nil {
			return nil, err
		}
		all[name] = data
	}
	return all, nil
}
