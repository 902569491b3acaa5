package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"github.com/spf13/cobra"

	"mivlet/demo"
	"mivlet/desk"
	"mivlet/practice"
	"mivlet/store"
	"mivlet/web"
)

// serving is what both demo and serve are told.
type serving struct {
	addr, siteAddr, data string
}

// The usual addresses: Mivlet, and the practice site on an origin of its own.
const (
	usualAddr = "127.0.0.1:8417"
	usualSite = "127.0.0.1:8418"
)

func (o *serving) flags(cmd *cobra.Command) {
	cmd.Flags().StringVar(&o.addr, "addr", "", "address of Mivlet (default "+usualAddr+", or a free port)")
	cmd.Flags().StringVar(&o.siteAddr, "site-addr", "", "address of the practice site (default "+usualSite+", or a free port)")
	cmd.Flags().StringVar(&o.data, "data", "", "folder where everything is kept")
}

func demoCommand() *cobra.Command {
	var o serving
	cmd := &cobra.Command{
		Use: "demo", Short: "Run Mivlet with an invented paddle club", Args: usageArgs(cobra.NoArgs),
		RunE: func(cmd *cobra.Command, _ []string) error {
			if o.data == "" {
				dir, err := os.MkdirTemp("", "mivlet-demo-")
				if err != nil {
					return err
				}
				o.data = dir
			}
			return o.run(cmd.Context(), cmd.OutOrStdout(), true)
		},
	}
	o.flags(cmd)
	return cmd
}

func serveCommand() *cobra.Command {
	var o serving
	cmd := &cobra.Command{
		Use: "serve", Short: "Run Mivlet on a data folder", Args: usageArgs(cobra.NoArgs),
		RunE: func(cmd *cobra.Command, _ []string) error {
			if o.data == "" {
				return usage{errors.New("serve needs --data DIR, the folder where everything is kept")}
			}
			return o.run(cmd.Context(), cmd.OutOrStdout(), false)
		},
	}
	o.flags(cmd)
	return cmd
}

// run serves until ctx ends, then lets requests finish.
func (o *serving) run(ctx context.Context, out io.Writer, withDemo bool) (err error) {
	kept, err := store.Open(o.data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, kept.Close()) }()
	if err := kept.Sessions().Sweep(); err != nil {
		return err
	}
	var live []uint
	if withDemo {
		if live, err = fillOnce(kept); err != nil {
			return fmt.Errorf("the demo could not be laid out: %w", err)
		}
	}

	main, err := listen(o.addr, usualAddr)
	if err != nil {
		return err
	}
	defer main.Close()
	public, err := listen(o.siteAddr, usualSite)
	if err != nil {
		return err
	}
	defer public.Close()

	var card fs.FS
	if withDemo {
		if card, err = demo.Card(); err != nil {
			return err
		}
	}
	d, err := desk.New(kept, desk.Options{SiteURL: "http://" + public.Addr().String(), Demo: withDemo, Card: card})
	if err != nil {
		return err
	}
	site := practice.Site{Rules: d.Rules}
	ending := make(chan struct{})
	app := server(web.Handler(d, web.Options{Layout: layout(site), ContentCSS: site.ContentCSS, Enlarge: practice.Enlarge, Sessions: kept.Sessions(), Ending: ending}))
	app.RegisterOnShutdown(func() { close(ending) })
	visitors := server(site.Handler(shopWindow{d}))
	ended := make(chan error, 2)
	go func() { ended <- app.Serve(main) }()
	go func() { ended <- visitors.Serve(public) }()

	folder, err := filepath.Abs(o.data)
	if err != nil {
		folder = o.data
	}
	fmt.Fprintf(out, "Mivlet         http://%s\nPractice site  http://%s\nKept in        %s\nCtrl-C ends it.\n", main.Addr(), public.Addr(), folder)
	beside, stop := context.WithCancel(ctx)
	prepared := prepare(beside, d, site, live)

	select {
	case <-ctx.Done():
		fmt.Fprintln(out, "Ending; what was begun is finished first.")
	case err = <-ended:
	}
	stop()
	patience, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	err = errors.Join(err, app.Shutdown(patience), visitors.Shutdown(patience))
	// Nothing may write into the folder once the store is closed.
	prepared.Wait()
	d.EndJobs()
	return err
}

// fillOnce lays the demo out in a folder that holds nothing yet.
func fillOnce(kept *store.Store) ([]uint, error) {
	empty, err := kept.Empty()
	if err != nil || !empty {
		return nil, err
	}
	return demo.Fill(kept, time.Now())
}

// prepare publishes the demo's live pages and makes previews, beside the work. What
// it returns waits for both; they end soon after ctx does.
func prepare(ctx context.Context, d *desk.Desk, site practice.Site, pages []uint) *sync.WaitGroup {
	var both sync.WaitGroup
	tell := func(what string, err error) {
		if err != nil && ctx.Err() == nil {
			slog.Error(what, "error", err)
		}
	}
	both.Go(func() {
		tell("the previews could not be made", d.Warm(ctx))
		_, err := d.EmptyBin()
		tell("the bin could not be emptied", err)
	})
	both.Go(func() {
		for _, id := range pages {
			if ctx.Err() != nil {
				return
			}
			_, err := d.Publish(ctx, id, 1, "", layout(site))
			tell("a demo page could not go live", err)
		}
	})
	return &both
}

// layout lets the desk lay pages out as the site does.
func layout(site practice.Site) desk.Layout {
	return func(w io.Writer, p desk.SitePage) error { return site.Write(w, practice.Page(p)) }
}

// listen takes the address that was asked for, or the usual one, or a free
// port where that is taken.
func listen(asked, usual string) (net.Listener, error) {
	if asked != "" {
		l, err := net.Listen("tcp", asked)
		if err != nil {
			return nil, fmt.Errorf("%s cannot be used: %w", asked, err)
		}
		return l, nil
	}
	if l, err := net.Listen("tcp", usual); err == nil {
		return l, nil
	}
	host, _, err := net.SplitHostPort(usual)
	if err != nil {
		return nil, err
	}
	return net.Listen("tcp", net.JoinHostPort(host, "0"))
}

// server bounds how long a visitor may keep a line busy.
func server(h http.Handler) *http.Server {
	return &http.Server{Handler: h, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: time.Minute,
		WriteTimeout: 2 * time.Minute, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10}
}

// shopWindow lets the practice site see what the desk has published.
type shopWindow struct{ desk *desk.Desk }

func (w shopWindow) Open(path, version string) (practice.File, error) {
	f, err := w.desk.Published(path, version)
	return practice.File{ReadSeekCloser: f.ReadSeekCloser, MediaType: f.MediaType, Tag: f.Tag}, err
}

func (w shopWindow) Links() ([]practice.Link, error) {
	live, err := w.desk.LiveLinks()
	links := make([]practice.Link, len(live))
	for i, l := range live {
		links[i] = practice.Link(l)
	}
	return links, err
}

func (w shopWindow) Whereabouts(path string) (moved, gone string, err error) {
	section, slug, ok := strings.Cut(strings.Trim(path, "/"), "/")
	if !ok {
		return "", "", nil
	}
	return w.desk.Whereabouts(section, slug)
}

func (w shopWindow) Missing(err error) bool { return errors.Is(err, store.ErrNotFound) }
