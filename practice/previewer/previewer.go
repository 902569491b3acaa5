// Package previewer is a stand-in for what makes previews of shared links: messengers,
// mail programs, notice boards. It does what they do, on an origin of its own, and says that
// it is a stand-in: it fetches a page and its picture as a stranger, reads nothing but what
// the page's HTML says, takes no picture that falls short, crops, and keeps what it fetched
// until it is told to fetch again.
package previewer

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"image"
	_ "image/gif"  // one of the types that it takes
	_ "image/jpeg" // one of the types that it takes
	_ "image/png"  // one of the types that it takes
	"io"
	"net/http"
	"net/url"
	"strings"
	"sync"
	"time"

	"github.com/PuerkitoBio/goquery"
	_ "golang.org/x/image/webp" // one of the types that it takes

	"mivlet/core/page"
)

// Limits are what it takes at most, and at least. The numbers are its own; real ones have
// others of the same kind.
type Limits struct {
	Page      int64         // bytes of HTML that are read
	Picture   int64         // bytes of a picture
	Patience  time.Duration // for one answer
	LeastSide int           // pixels of the shorter side of a picture
}

// Usual are the limits of the stand-in that ships.
var Usual = Limits{Page: 512 << 10, Picture: 1 << 20, Patience: 5 * time.Second, LeastSide: 200}

// Held is what the previewer keeps of a link.
type Held struct {
	page.Held
	data []byte // of the picture
}

// Previewer keeps previews of the links of one site. It is safe for concurrent use, and
// forgets all of it when it ends.
type Previewer struct {
	site   *url.URL
	limits Limits
	now    func() time.Time
	client *http.Client

	mu   sync.Mutex
	held map[string]*Held
}

// New returns a previewer of links to a site, such as http://127.0.0.1:8081; it goes nowhere
// else.
func New(site string, limits Limits, now func() time.Time) (*Previewer, error) {
	u, err := url.Parse(site)
	if err != nil || u.Host == "" {
		return nil, fmt.Errorf("the site %q has no whole address", site)
	}
	p := &Previewer{site: u, limits: limits, now: now, held: map[string]*Held{}}
	p.client = &http.Client{Timeout: limits.Patience, CheckRedirect: func(r *http.Request, via []*http.Request) error {
		if len(via) > 4 || r.URL.Host != u.Host {
			return errElsewhere
		}
		return nil
	}}
	return p, nil
}

var errElsewhere = errors.New("it leads away from the site")

// Held returns what is kept of a link. What was never shared before is fetched.
func (p *Previewer) Held(ctx context.Context, address string) (*Held, error) {
	p.mu.Lock()
	h := p.held[address]
	p.mu.Unlock()
	if h != nil {
		return h, nil
	}
	return p.Fetch(ctx, address)
}

// Fetch fetches a link again and keeps what it got, in the place of what was kept. It fails
// only for a link that does not lead to the site.
func (p *Previewer) Fetch(ctx context.Context, address string) (*Held, error) {
	u, err := url.Parse(address)
	if err != nil || u.Scheme != p.site.Scheme || u.Host != p.site.Host {
		return nil, fmt.Errorf("address %q is not one of %s", address, p.site)
	}
	h := p.read(ctx, address)
	p.mu.Lock()
	defer p.mu.Unlock()
	p.held[address] = h
	return h, nil
}

// All returns everything that is kept, in no order.
func (p *Previewer) All() []*Held {
	p.mu.Lock()
	defer p.mu.Unlock()
	all := make([]*Held, 0, len(p.held))
	for _, h := range p.held {
		all = append(all, h)
	}
	return all
}

// get fetches an address. What is longer than most is cut off, and over says so.
func (p *Previewer) get(ctx context.Context, address string, most int64) (data []byte, mediaType string, over bool, err error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, address, nil)
	if err != nil {
		return nil, "", false, err
	}
	req.Header.Set("User-Agent", "Mivlet-Previewer/1 (a stand-in)")
	res, err := p.client.Do(req)
	if err != nil {
		return nil, "", false, errors.New("it does not answer in time, or at all")
	}
	defer res.Body.Close()
	if res.StatusCode != http.StatusOK {
		return nil, "", false, fmt.Errorf("it answers %s", res.Status)
	}
	data, err = io.ReadAll(io.LimitReader(res.Body, most+1))
	if err != nil {
		return nil, "", false, errors.New("its answer breaks off")
	}
	over = int64(len(data)) > most
	return data[:min(int64(len(data)), most)], res.Header.Get("Content-Type"), over, nil
}

// read fetches a page and what it says of itself.
func (p *Previewer) read(ctx context.Context, address string) *Held {
	h := &Held{Held: page.Held{Address: address, At: p.now()}}
	data, kind, _, err := p.get(ctx, address, p.limits.Page)
	switch {
	case err != nil:
		h.Trouble = "The page cannot be read: " + err.Error() + "."
		return h
	case !strings.HasPrefix(kind, "text/html"):
		h.Trouble = fmt.Sprintf("The page cannot be read: it is %q and not HTML.", kind)
		return h
	}
	doc, err := goquery.NewDocumentFromReader(bytes.NewReader(data)) // what is over the limit is not read
	if err != nil {
		h.Trouble = "The page cannot be read: " + err.Error() + "."
		return h
	}
	says := func(selectors ...string) string {
		for _, s := range selectors {
			if v := strings.Join(strings.Fields(doc.Find("head "+s).First().AttrOr("content", "")), " "); v != "" {
				return v
			}
		}
		return ""
	}
	if h.Title = says(`meta[property="og:title"]`); h.Title == "" {
		h.Title = strings.TrimSpace(doc.Find("head title").First().Text())
	}
	h.Description = says(`meta[property="og:description"]`, `meta[name="description"]`)
	h.Site = says(`meta[property="og:site_name"]`)
	h.Large = says(`meta[name="twitter:card"]`) == "summary_large_image"
	h.Alt = says(`meta[property="og:image:alt"]`)
	p.picture(ctx, h, says(`meta[property="og:image"]`))
	return h
}

// picture fetches the picture that a page names, or says why it is not taken.
func (p *Previewer) picture(ctx context.Context, h *Held, address string) {
	refuse := func(why page.Refusal, says string, values ...any) {
		h.Refused, h.Because = why, fmt.Sprintf(says, values...)
	}
	u, err := url.Parse(address)
	switch {
	case address == "":
		refuse(page.NoPicture, "The page names no picture.")
		return
	case err != nil || !u.IsAbs() || u.Host == "":
		refuse(page.Relative, "The address of the picture, %q, is not a whole one.", address)
		return
	case u.Host != p.site.Host:
		refuse(page.Foreign, "The picture lies on %s, where this stand-in does not go.", u.Host)
		return
	}
	h.Picture = address
	data, kind, over, err := p.get(ctx, address, p.limits.Picture)
	if err != nil {
		refuse(page.Unanswered, "The picture cannot be fetched: %v.", err)
		return
	}
	if over {
		refuse(page.TooHeavy, "The picture is heavier than %d kB.", p.limits.Picture>>10)
		return
	}
	c, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || kind != "image/"+format {
		refuse(page.WrongType, "The picture is sent as %q, and cannot be shown as that.", kind)
		return
	}
	if h.Width, h.Height = c.Width, c.Height; min(c.Width, c.Height) < p.limits.LeastSide {
		refuse(page.TooSmall, "The picture has %d × %d pixels; each side needs %d.", c.Width, c.Height, p.limits.LeastSide)
		return
	}
	sum := sha256.Sum256(data)
	h.Hash, h.data = hex.EncodeToString(sum[:]), data
}
