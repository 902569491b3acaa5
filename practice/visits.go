package practice

import (
	"fmt"
	"html/template"
	"net/http"
	"strings"
	"sync"
	"time"

	"mivlet/core/fit"
)

// visit is one thing that a visitor fetched.
type visit struct {
	at     time.Time
	what   string
	status int
	bytes  int64
	slow   bool
	kept   bool // the browser had it still, and was told so
	took   time.Duration
}

// visits is what visitors fetched last, in memory only: the newest mostVisits.
type visits struct {
	mu  sync.Mutex
	all []visit
}

const mostVisits = 200

func (v *visits) add(one visit) {
	v.mu.Lock()
	defer v.mu.Unlock()
	if v.all = append(v.all, one); len(v.all) > mostVisits {
		v.all = append(v.all[:0:0], v.all[len(v.all)-mostVisits:]...)
	}
}

func (v *visits) newestFirst() []visit {
	v.mu.Lock()
	defer v.mu.Unlock()
	all := make([]visit, 0, len(v.all))
	for i := len(v.all) - 1; i >= 0; i-- {
		all = append(all, v.all[i])
	}
	return all
}

// lineCookie remembers that a visitor tries a slow line.
const lineCookie = "line"

// watch notes what is fetched, and lets it trickle for those who try a slow line.
func (v *visits) watch(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		c, err := r.Cookie(lineCookie)
		slow := err == nil && c.Value == "slow"
		m := &meter{ResponseWriter: w, status: http.StatusOK, begun: time.Now()}
		if slow {
			m.rate = fit.SlowLine / 8
		}
		next.ServeHTTP(m, r)
		v.add(visit{m.begun, r.URL.Path, m.status, m.bytes, slow, m.status == http.StatusNotModified, time.Since(m.begun)})
	})
}

// meter counts what is written, and holds it to a rate.
type meter struct {
	http.ResponseWriter
	status int
	bytes  int64
	begun  time.Time
	rate   int64 // bytes per second; 0 is as fast as it goes
}

func (m *meter) WriteHeader(status int) {
	m.status = status
	m.ResponseWriter.WriteHeader(status)
}

// sip is how much of a file goes out at once on a slow line, in bytes.
const sip = 8 << 10

func (m *meter) Write(data []byte) (n int, err error) {
	for len(data) > 0 {
		part := data
		if m.rate > 0 && len(part) > sip {
			part = part[:sip]
		}
		k, err := m.ResponseWriter.Write(part)
		n += k
		if m.bytes += int64(k); err != nil {
			return n, err
		}
		data = data[k:]
		if m.rate > 0 {
			_ = http.NewResponseController(m.ResponseWriter).Flush()
			due := m.begun.Add(time.Duration(m.bytes * int64(time.Second) / m.rate))
			time.Sleep(time.Until(due))
		}
	}
	return n, nil
}

// Unwrap lets the server reach what is beneath.
func (m *meter) Unwrap() http.ResponseWriter { return m.ResponseWriter }

// setLine lets a visitor try a slow line, or the usual one again.
func setLine(w http.ResponseWriter, r *http.Request, kind string) {
	http.SetCookie(w, &http.Cookie{Name: lineCookie, Value: kind, Path: "/", HttpOnly: true, SameSite: http.SameSiteLaxMode, MaxAge: 3600})
	http.Redirect(w, r, "/visits", http.StatusSeeOther)
}

// list shows what visitors fetched.
func (v *visits) list(r *http.Request) template.HTML {
	var b strings.Builder
	b.WriteString("<h1>What visitors fetched</h1>\n<div class=\"flow\">\n")
	if c, err := r.Cookie(lineCookie); err == nil && c.Value == "slow" {
		fmt.Fprintf(&b, "<p>You try a slow line: %.1f Mbit/s. <a href=\"/line/usual\">Back to the usual one</a></p>\n", fit.SlowLine/1e6)
	} else {
		fmt.Fprintf(&b, "<p>You have the usual line. <a href=\"/line/slow\">Try a slow one</a>, of %.1f Mbit/s.</p>\n", fit.SlowLine/1e6)
	}
	all := v.newestFirst()
	if len(all) == 0 {
		b.WriteString("<p>Nobody has been here yet.</p>\n</div>\n")
		return template.HTML(b.String())
	}
	b.WriteString("<table>\n<thead><tr><th scope=\"col\">When</th><th scope=\"col\">What</th><th scope=\"col\">Answer</th><th scope=\"col\">Bytes</th><th scope=\"col\">Took</th></tr></thead>\n<tbody>\n")
	for _, one := range all {
		answer := fmt.Sprint(one.status)
		if one.kept {
			answer += ", kept by the browser"
		}
		if one.slow {
			answer += ", slow line"
		}
		fmt.Fprintf(&b, "<tr><td>%s</td><td>%s</td><td>%s</td><td>%d</td><td>%.2f s</td></tr>\n", one.at.Format("15:04:05"), template.HTMLEscapeString(one.what), answer, one.bytes, one.took.Seconds())
	}
	b.WriteString("</tbody>\n</table>\n</div>\n")
	return template.HTML(b.String())
}
