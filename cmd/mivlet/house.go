package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net/http"
	"sync"
	"time"

	"mivlet/core/rules"
	"mivlet/demo"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/district"
	"mivlet/desk/jobs"
	"mivlet/desk/previews"
	asked "mivlet/edge/previewer"
	"mivlet/edge/tesseract"
	"mivlet/edge/visitor"
	"mivlet/internal/under"
	"mivlet/practice"
	"mivlet/practice/window"
	"mivlet/store"
	"mivlet/store/datafolder"
	"mivlet/web"
)

// place says where a house is opened, and what is around it.
type place struct {
	data         string
	name         string // among those of one program; empty where it is alone
	siteURL      string // address of its practice site
	previewerURL string
	base         string
	beside       bool // another program may have it open, too
	leaveJobs    bool // to other programs
	demo         bool
	upTo         float64 // densities that the demo serves
	overTLS      bool
	visitor      *visitor.Visitor
	decoding     *derive.Budget
	allotted     access.Allotment
	given        rules.Given
	houses       district.Houses // that this one looks after; nil where it looks after none
	tidied       *time.Time      // when it was tidied up last, as far as is known; nil where nobody remembers
	backing      *backing
	sealer       access.Keys
	answered     func(web.Answered)
}

// house is a house that is open.
type house struct {
	kept     *datafolder.Folder
	d        *desk.Desk
	on       machine
	site     practice.Site
	screens  http.Handler // for those who work there
	visitors http.Handler // the practice site
	ending   chan struct{}
	end      func()
	live     []uint // pages of the demo that are to go live
	backing  *backing
	tidied   *time.Time
}

// openHouse opens a house, and has nothing run in it yet.
func openHouse(at place) (_ *house, err error) {
	open := datafolder.Open
	if at.beside {
		open = datafolder.OpenBeside
	}
	kept, err := open(at.data)
	if err != nil {
		return nil, err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, kept.Close())
		}
	}()
	h := &house{kept: kept, on: machine{at.data, time.Now(), at.backing}, ending: make(chan struct{}), backing: at.backing, tidied: at.tidied}
	h.end = sync.OnceFunc(func() { close(h.ending) })
	var card fs.FS
	if at.demo {
		if h.live, err = fillOnce(&kept.Store, at.upTo); err != nil {
			return nil, fmt.Errorf("the demo could not be laid out: %w", err)
		}
		if card, err = demo.Card(); err != nil {
			return nil, err
		}
	}
	h.d, err = desk.New(&kept.Store, desk.Options{SiteURL: at.siteURL, Demo: at.demo, Card: card, Reader: tesseract.Reader{}, Visitor: at.visitor,
		Previewer: at.previewer(), Decoding: at.decoding, Name: at.name, Allotted: at.allotted, Given: at.given, Houses: at.houses, Places: places, Provider: openProvider, Sealer: at.sealer, Data: at.data, Machine: h.on, BackupsTo: at.backing.to, Fetch: fetchPolitely, Measure: measuring(), Compare: comparing(), LeaveJobs: at.leaveJobs, Waits: jobs.Usual})
	if err != nil {
		return nil, err
	}
	h.site = practice.Site{Rules: h.d.Rules}
	layout := window.Layout(h.site)
	if err := h.d.Lists.UseLayout(layout); err != nil {
		return nil, err
	}
	h.d.Mirror.UseSite(h.site.Plain(window.Of{Desk: h.d}))
	h.screens = under.Path(at.base, web.Handler(h.d, web.Options{Layout: layout, ContentCSS: h.site.ContentCSS, Enlarge: practice.Enlarge, Ahead: true, Sessions: kept.Sessions(),
		TLS: at.overTLS, Base: at.base, Ending: h.ending, Answered: at.answered}))
	h.visitors = h.site.Handler(window.Of{Desk: h.d})
	return h, nil
}

// previewer is who keeps previews of shared links; nil where nobody does.
func (at place) previewer() previews.Previewer {
	if at.previewerURL == "" {
		return nil
	}
	return asked.New(at.previewerURL)
}

// begin does what goes on beside the screens, until ctx ends: what every program does that works on the house, and what
// one of them does for all. It returns what waits for that.
func (h *house) begin(ctx context.Context) *sync.WaitGroup {
	var all sync.WaitGroup
	all.Go(func() { h.d.Listen(ctx) })
	all.Go(func() {
		h.d.Banners.Count(ctx, countEvery, func(err error) { slog.Error("how often banners were shown could not be kept", "error", err) })
	})
	all.Go(func() {
		alone(ctx, h.d, func(ctx context.Context) {
			duties := prepare(ctx, h)
			if h.backing.to != "" {
				duties.Go(func() { h.backing.run(ctx, h.kept, h.d) })
			}
			duties.Wait()
		})
	})
	return &all
}

// firstCode is the code that the first keeper is asked for; empty where there is a keeper.
func (h *house) firstCode() (string, error) {
	if needs, err := h.d.People.NeedsKeeper(); err != nil || !needs {
		return "", err
	}
	return h.d.People.FirstCode()
}

// fillOnce lays the demo out in a folder that holds nothing yet.
func fillOnce(kept *store.Store, upTo float64) ([]uint, error) {
	empty, err := kept.Empty()
	if err != nil || !empty {
		return nil, err
	}
	return demo.Fill(kept, time.Now(), func(r *rules.Rules) { r.ServeUpTo(upTo) })
}

// upkeep tidies the house up every day: at once, or when a day is over since it was done last.
func (h *house) upkeep(ctx context.Context) {
	const day = 24 * time.Hour
	if h.tidied != nil {
		select {
		case <-ctx.Done():
			return
		case <-time.After(time.Until(h.tidied.Add(day))):
		}
		*h.tidied = time.Now()
	}
	h.d.Upkeep(ctx, day)
}

// alone does what one of the programs that work on a house does for all: when that one ends, another does it.
func alone(ctx context.Context, d *desk.Desk, do func(context.Context)) {
	if d.Alone() {
		do(ctx)
		return
	}
	d.Store.Fellows.Alone(ctx, "duties", do)
}

// prepare publishes the demo's live pages and makes previews, beside the work. What
// it returns waits for both; they end soon after ctx does.
func prepare(ctx context.Context, h *house) *sync.WaitGroup {
	d, site, pages := h.d, h.site, h.live
	var both sync.WaitGroup
	tell := func(what string, err error) {
		if err != nil && ctx.Err() == nil {
			slog.Error(what, "error", err)
		}
	}
	both.Go(func() { tell("the previews could not be made", d.In(ctx).Pictures.Warm(ctx)) })
	both.Go(func() { h.upkeep(ctx) })
	both.Go(func() { d.In(ctx).Destinations.Run(ctx, sendEvery) })
	both.Go(func() { d.In(ctx).Lighter.Run(ctx, lightenEvery, window.Layout(site)) })
	both.Go(func() {
		for _, id := range pages {
			if ctx.Err() != nil {
				return
			}
			p, err := d.Pages.Page(id)
			if err == nil {
				_, err = d.In(ctx).Publish.Publish(ctx, id, p.Seen, "", window.Layout(site))
			}
			tell("a demo page could not go live", err)
		}
		if len(pages) > 0 {
			tell("the banners of the demo could not be approved", approveAll(ctx, d))
			tell("a shared link of the demo could not grow old", goStale(ctx, d, window.Layout(site)))
		} else if !soon(ctx) { // what the house shows first is not kept waiting by it
			return
		}
		d.In(ctx).Rounds.Run(ctx, roundsEvery)
	})
	return &both
}
