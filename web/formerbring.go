package web

import (
	"errors"
	"fmt"
	"io"
	"mime"
	"mime/multipart"
	"net/http"
	"net/url"
	"strings"
	"time"

	"mivlet/desk/access"
	"mivlet/store"
)

func (s *server) fetchFormer(w http.ResponseWriter, r *http.Request) {
	if _, err := s.at(r).BringIn.FetchFrom(r.FormValue("address")); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/former")
}

// fetchOnFormer goes on with a site of which a part was fetched.
func (s *server) fetchOnFormer(w http.ResponseWriter, r *http.Request) {
	if _, err := s.at(r).BringIn.FetchOn(id(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	s.goOn(w, r, "/former")
}

// bringFormer takes a site in: an archive, or a folder whose files come one after the other.
func (s *server) bringFormer(w http.ResponseWriter, r *http.Request) {
	line := http.NewResponseController(w)
	_ = line.SetReadDeadline(time.Now().Add(patience))
	_ = line.SetWriteDeadline(time.Now().Add(patience))
	parts, err := r.MultipartReader()
	if err != nil {
		s.fail(w, r, access.Because(access.Bad, "No site came with that.", "Choose an archive or a folder.", err))
		return
	}
	var hosts []string
	for {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			s.fail(w, r, access.Refuse(access.Bad, "No site is chosen.", "Choose an archive or a folder."))
			return
		}
		if err != nil {
			s.fail(w, r, access.Because(access.Bad, "The site did not come in whole.", "Try again.", err))
			return
		}
		if part.FormName() == "hosts" {
			text, _ := io.ReadAll(io.LimitReader(part, 1000))
			hosts = hostsOf(string(text))
			continue
		}
		name := pathOf(part)
		if name == "" {
			continue // a field in which nothing is chosen
		}
		f, err := s.bring(r, part, parts, name, hosts)
		if err != nil {
			s.fail(w, r, err)
			return
		}
		s.goOn(w, r, fmt.Sprintf("/former/%d", f.ID))
		return
	}
}

func (s *server) bring(r *http.Request, first *multipart.Part, parts *multipart.Reader, name string, hosts []string) (store.FormerSite, error) {
	d := s.at(r).BringIn
	if first.FormName() == "archive" {
		return d.Bring(r.Context(), name, first, hosts)
	}
	folder, _, _ := strings.Cut(name, "/")
	part := first
	return d.BringFolder(r.Context(), folder, func() (string, io.Reader, error) {
		for {
			if part == nil {
				var err error
				if part, err = parts.NextPart(); err != nil {
					return "", nil, err
				}
			}
			this := part
			part = nil
			if at := pathOf(this); at != "" && this.FormName() == "folder" {
				return at, this, nil
			}
		}
	}, hosts)
}

// pathOf is the path of a file of a folder, as browsers send it; the name alone is what the library gives.
func pathOf(part *multipart.Part) string {
	_, said, err := mime.ParseMediaType(part.Header.Get("Content-Disposition"))
	if err != nil {
		return part.FileName()
	}
	return said["filename"]
}

// hostsOf are the names in a text, as people write or copy them.
func hostsOf(text string) (all []string) {
	for _, one := range strings.FieldsFunc(text, func(r rune) bool { return strings.ContainsRune(" ,;\n\r\t", r) }) {
		if u, err := url.Parse(one); err == nil && u.Host != "" {
			one = u.Host
		}
		all = append(all, strings.ToLower(strings.Trim(one, "/")))
	}
	return all
}
