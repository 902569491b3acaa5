package web

import (
	"fmt"
	"net/http"
	"strconv"
	"strings"

	"mivlet/desk/access"
)

// figures are the fields of forms that people type numbers into: true where a number may have
// decimals. A blank one is as the house has it.
var figures = map[string]bool{
	"x": true, "y": true, "w": true, "h": true, // a focal point is told in parts of its picture
	"frame": false,
	"width": true, "cap": false, "air-top": false, "air-right": false, "air-bottom": false, "air-left": false,
	"line-width": false, "shadow-x": false, "shadow-y": false,
	"across": false, "down": false, "closer": false, "shade": false,
	"most": false, "year": false, "place": false, "share": false, "budget": false,
	"most-pictures": false, "most-gigabytes": true, "most-people": false, "most-decoding": false,
	"scale": true, "known": true, "degrees": true, "grace": false,
}

// figure reports whether numbers are typed into a field, and whether they may have decimals.
func figure(field string) (decimals, is bool) {
	if decimals, is = figures[field]; is {
		return decimals, true
	}
	for _, device := range []string{"-phone", "-tablet", "-desktop"} {
		if strings.HasSuffix(field, device) {
			return false, true
		}
	}
	return false, strings.HasPrefix(field, "place-")
}

// numbersOnly refuses a form where something else than a number is typed into a field for
// numbers, before anything is done with the rest of it: no word is ever taken for 0.
func (s *server) numbersOnly(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodPost {
			if err := r.ParseForm(); err == nil { // what is too large or broken is for who reads it to tell
				if err := checkFigures(r); err != nil {
					s.fail(w, r, err)
					return
				}
			}
		}
		next.ServeHTTP(w, r)
	})
}

func checkFigures(r *http.Request) error {
	for field, values := range r.PostForm {
		decimals, is := figure(field)
		if !is {
			continue
		}
		for _, text := range values {
			if err := checkFigure(strings.TrimSpace(text), decimals); err != nil {
				return err
			}
		}
	}
	return nil
}

func checkFigure(text string, decimals bool) error {
	if text == "" {
		return nil
	}
	n, err := strconv.ParseFloat(text, 64)
	switch {
	case err != nil || n != n || n < -1e9 || n > 1e9:
		return access.Because(access.Bad, fmt.Sprintf("“%s” is not a number.", text), "Enter one such as 12. Nothing was changed.", err)
	case !decimals && n != float64(int(n)):
		return access.Refuse(access.Bad, fmt.Sprintf("“%s” is not a whole number.", text), "Enter one such as 12. Nothing was changed.")
	}
	return nil
}
