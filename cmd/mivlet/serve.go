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

	"mivlet/core/rules"
	"mivlet/demo"
	"mivlet/desk"
	"mivlet/desk/former"
	"mivlet/desk/jobs"
	"mivlet/desk/publish"
	"mivlet/edge/browser"
	asked "mivlet/edge/previewer"
	"mivlet/edge/tesseract"
	"mivlet/edge/visitor"
	"mivlet/internal/health"
	"mivlet/internal/hosts"
	"mivlet/internal/metrics"
	"mivlet/internal/proxied"
	"mivlet/internal/traces"
	"mivlet/internal/under"
	"mivlet/practice"
	"mivlet/practice/previewer"
	"mivlet/practice/window"
	"mivlet/store"
	"mivlet/store/datafolder"
	"mivlet/web"
)

// serving is what both demo and serve are told.
type serving struct {
	addr, siteAddr, data string
	previewerAddr        string
	metricsAddr          string // empty where nobody looks
	tracesTo             string // address of a collector; empty where there is none
	keyFile              string
	hosts                []string // names that are answered besides those of this machine
	cert, key            string   // files, for TLS
	certified            certified
	behindTLS            bool     // a proxy speaks TLS for it
	proxies              []string // addresses of proxies that are believed
	logs                 string   // form of the log
	memory               string   // most memory, such as 2GB
	path                 string   // below which Mivlet lies on its host; empty for none
	upTo                 float64  // densities that the demo serves
	backing              backing
}

// The usual addresses: Mivlet, and the practice site and the previewer on origins of their
// own.
const (
	usualAddr      = "127.0.0.1:8417"
	usualSite      = "127.0.0.1:8418"
	usualPreviewer = "127.0.0.1:8419"
)

func (o *serving) flags(cmd *cobra.Command) {
	cmd.Flags().String(configFlag, "", "file with settings, in TOML (see 'mivlet config')")
	cmd.PreRunE = func(cmd *cobra.Command, _ []string) error {
		_, err := settle(cmd.Flags(), os.LookupEnv)
		return err
	}
	cmd.Flags().StringVar(&o.addr, "addr", "", "address of Mivlet (default "+usualAddr+", or a free port)")
	cmd.Flags().StringVar(&o.siteAddr, "site-addr", "", "address of the practice site (default "+usualSite+", or a free port)")
	cmd.Flags().StringVar(&o.keyFile, "key-file", "", "file of the key that secrets are kept under, such as passwords for destinations (default "+keyName+" in the data folder)")
	cmd.Flags().StringVar(&o.previewerAddr, "previewer-addr", "", "address of the previewer (default "+usualPreviewer+", or a free port)")
	cmd.Flags().StringVar(&o.metricsAddr, "metrics-addr", "", "address that numbers are told at, as Prometheus reads them, such as 127.0.0.1:9117 (default none)")
	cmd.Flags().StringVar(&o.tracesTo, "traces-to", "", "address of a collector that is told how long the parts of requests took (OpenTelemetry), such as http://127.0.0.1:4318/v1/traces (default none)")
	cmd.Flags().StringVar(&o.data, "data", "", "folder where everything is kept")
	cmd.Flags().StringSliceVar(&o.hosts, "host", nil, "names or addresses that are answered besides this machine's own, such as mivlet.club.example")
	cmd.Flags().StringVar(&o.cert, "cert", "", "certificate file, to be served over TLS")
	cmd.Flags().StringVar(&o.key, "key", "", "key file of the certificate")
	cmd.Flags().BoolVar(&o.behindTLS, "behind-tls", false, "a proxy in front of it speaks TLS: cookies go over nothing else")
	cmd.Flags().StringSliceVar(&o.proxies, "proxy", nil, "addresses of proxies in front of it, such as 10.0.0.2 or 10.0.0.0/24, that say truly who asks")
	cmd.Flags().StringVar(&o.path, "path", "", "path that it has on a host that it shares with others, such as /mivlet (default none)")
	cmd.Flags().StringVar(&o.logs, "log", "text", "form of the log: text or json")
	o.certified.flags(cmd)
	o.backing.flags(cmd)
	cmd.Flags().StringVar(&o.memory, "memory", "", "most memory it aims to take, such as 2GB (default three quarters of the machine's or the container's)")
}

func demoCommand() *cobra.Command {
	var o serving
	cmd := &cobra.Command{
		Use: "demo", Short: "Run Mivlet with an invented paddle club", Args: usageArgs(cobra.NoArgs),
		RunE: func(cmd *cobra.Command, _ []string) error {
			if !demo.Here() {
				return errors.New("this program comes without the demo's pictures; whoever has the source gets the demo with 'go run ./cmd/mivlet demo'")
			}
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
	cmd.Flags().Float64Var(&o.upTo, "up-to", 3, "make the demo's files for screens of up to so many pixels for each CSS pixel")
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
	if err := o.checkTLS(); err != nil {
		return usage{err}
	}
	if err := o.backing.check(o.data); err != nil {
		return usage{err}
	}
	log, err := logger(o.logs, os.Stderr)
	if err != nil {
		return usage{err}
	}
	if log != slog.Default() {
		slog.SetDefault(log)
	}
	proxies, err := proxied.ParseProxies(o.proxies)
	if err != nil {
		return usage{err}
	}
	base, err := under.Parse(o.path)
	if err != nil {
		return usage{err}
	}
	memory, err := limitMemory(o.memory)
	if err != nil {
		return usage{err}
	}
	trustRoots()
	if o.tracesTo != "" {
		end, err := traces.Start(o.tracesTo, version())
		if err != nil {
			return usage{err}
		}
		defer func() { // what is left is sent while somebody is there to take it
			last, cancel := context.WithTimeout(context.WithoutCancel(ctx), 3*time.Second)
			defer cancel()
			if err := end(last); err != nil {
				slog.Warn("the last traces could not be sent", "error", err)
			}
		}()
	}
	kept, err := datafolder.Open(o.data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, kept.Close()) }()
	var live []uint
	if withDemo {
		if live, err = fillOnce(&kept.Store, o.upTo); err != nil {
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
	outside, err := listen(o.previewerAddr, usualPreviewer)
	if err != nil {
		return err
	}
	defer outside.Close()
	siteURL, previewerURL := "http://"+public.Addr().String(), "http://"+outside.Addr().String()
	shared, err := previewer.New(siteURL, previewer.Usual, time.Now)
	if err != nil {
		return err
	}

	var card fs.FS
	if withDemo {
		if card, err = demo.Card(); err != nil {
			return err
		}
	}
	on := machine{o.data, time.Now(), &o.backing}
	d, err := desk.New(&kept.Store, desk.Options{SiteURL: siteURL, Demo: withDemo, Card: card, Reader: tesseract.Reader{}, Visitor: visitor.New(),
		Previewer: asked.New(previewerURL), Decoding: decodingShare(memory), Places: places, Provider: openProvider, Sealer: o.sealer(), Data: o.data, Machine: on, BackupsTo: o.backing.to, Fetch: fetchPolitely, Measure: measuring(), Waits: jobs.Usual})
	if err != nil {
		return err
	}
	site := practice.Site{Rules: d.Rules}
	if err := d.Lists.UseLayout(window.Layout(site)); err != nil {
		return err
	}
	d.Mirror.UseSite(site.Plain(window.Of{Desk: d}))
	counted := metrics.New(gauges(d, on)...)
	ending := make(chan struct{})
	both := newServers()
	ready := health.Check{Name: "data", Do: kept.Ready}
	overTLS := o.cert != "" || o.certified.on || o.behindTLS
	screens := web.Handler(d, web.Options{Layout: window.Layout(site), ContentCSS: site.ContentCSS, Enlarge: practice.Enlarge, Ahead: true, Sessions: kept.Sessions(), TLS: overTLS, Base: base, Ending: ending,
		Answered: func(a web.Answered) { counted.Count(metrics.Request(a)) }})
	app := both.add(health.Answer(proxied.Believe(proxies, overTLS, hosts.Check(o.hosts, under.Path(base, screens))), ending, ready))
	if app.TLSConfig, err = o.tls(); err != nil {
		return err
	}
	app.RegisterOnShutdown(sync.OnceFunc(func() { close(ending) }))
	visitors := both.add(hosts.Check(o.hosts, site.Handler(window.Of{Desk: d})))
	previews := both.add(hosts.Check(o.hosts, shared.Handler()))
	ended := make(chan error, 4)
	if o.metricsAddr != "" {
		watched, err := listen(o.metricsAddr, "")
		if err != nil {
			return err
		}
		defer watched.Close()
		numbers := both.add(counted.Handler())
		go func() { ended <- numbers.Serve(watched) }()
	}
	if err := d.Jobs.Resume(); err != nil { // before anybody can begin another
		return err
	}
	reached := "http://" + main.Addr().String()
	if o.cert != "" || o.certified.on {
		reached = "https://" + main.Addr().String()
		if o.certified.on {
			reached = "https://" + o.hosts[0] + reached[strings.LastIndex(reached, ":"):]
		}
		go func() { ended <- app.ServeTLS(main, o.cert, o.key) }()
	} else {
		go func() { ended <- app.Serve(main) }()
	}
	go func() { ended <- visitors.Serve(public) }()
	go func() { ended <- previews.Serve(outside) }()

	reached += base
	keptIn, err := filepath.Abs(o.data)
	if err != nil {
		keptIn = o.data
	}
	if o.metricsAddr != "" {
		fmt.Fprintf(out, "Numbers        http://%s%s\n", o.metricsAddr, metrics.Path)
	}
	fmt.Fprintf(out, "Mivlet         %s\nPractice site  %s\nPreviewer      %s\nKept in        %s\n", reached, siteURL, previewerURL, keptIn)
	if needs, err := d.People.NeedsKeeper(); err == nil && needs {
		fmt.Fprintf(out, "First keeper   %s/first?code=%s\n", reached, d.People.FirstCode())
	}
	fmt.Fprintln(out, "Ctrl-C ends it.")
	beside, stop := context.WithCancel(ctx)
	var prepared sync.WaitGroup
	prepared.Go(func() { d.Listen(beside) })
	prepared.Go(func() {
		d.Banners.Count(beside, countEvery, func(err error) { slog.Error("how often banners were shown could not be kept", "error", err) })
	})
	prepared.Go(func() {
		alone(beside, d, func(ctx context.Context) {
			duties := prepare(ctx, d, site, live)
			if o.backing.to != "" {
				duties.Go(func() { o.backing.run(ctx, kept, d) })
			}
			duties.Wait()
		})
	})

	select {
	case <-ctx.Done():
		fmt.Fprintln(out, "Ending; what was begun is finished first.")
	case err = <-ended:
	}
	stop()
	if errors.Is(err, http.ErrServerClosed) {
		err = nil
	}
	err = errors.Join(err, both.end())
	// Nothing may write into the folder once the store is closed.
	prepared.Wait()
	d.Jobs.End()
	return err
}

// fillOnce lays the demo out in a folder that holds nothing yet.
func fillOnce(kept *store.Store, upTo float64) ([]uint, error) {
	empty, err := kept.Empty()
	if err != nil || !empty {
		return nil, err
	}
	return demo.Fill(kept, time.Now(), func(r *rules.Rules) { r.ServeUpTo(upTo) })
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
func prepare(ctx context.Context, d *desk.Desk, site practice.Site, pages []uint) *sync.WaitGroup {
	var both sync.WaitGroup
	tell := func(what string, err error) {
		if err != nil && ctx.Err() == nil {
			slog.Error(what, "error", err)
		}
	}
	both.Go(func() { tell("the previews could not be made", d.In(ctx).Pictures.Warm(ctx)) })
	both.Go(func() { d.Upkeep(ctx, 24*time.Hour) })
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

// approveAll approves the banners of the demo.
func approveAll(ctx context.Context, d *desk.Desk) error {
	all, err := d.Banners.Calendar()
	if err != nil {
		return err
	}
	for _, row := range all.Rows {
		for _, l := range row.Lines {
			v, err := d.Banners.Of(l.ID)
			if err == nil {
				err = d.In(ctx).Banners.Approve(l.ID, v.Seen())
			}
			if err != nil {
				return fmt.Errorf("%s: %w", l.Doc.Title, err)
			}
		}
	}
	return nil
}

// goStale shares one page of the demo, and then publishes it with another picture for its
// link: the previewer goes on showing the first.
func goStale(ctx context.Context, d *desk.Desk, layout publish.Layout) error {
	id, picture, err := demo.Stale(d.Store)
	if err == nil {
		err = d.In(ctx).Previews.FetchAgain(ctx, id)
	}
	if err == nil {
		err = d.Covers.SetLink(id, "", picture)
	}
	if err != nil {
		return err
	}
	p, err := d.Pages.Page(id)
	if err == nil {
		_, err = d.In(ctx).Publish.Publish(ctx, id, p.Seen, "", layout)
	}
	return err
}

// sendEvery is how soon what goes live is sent to destinations.
const sendEvery = 2 * time.Second

// lightenEvery is how soon lighter files are begun for what goes live.
const lightenEvery = 2 * time.Second

// roundsEvery is how often it is looked whether a round is due.
const roundsEvery = 10 * time.Minute

// soon waits until the program has had time to begin. It reports whether ctx still holds.
func soon(ctx context.Context) bool {
	select {
	case <-ctx.Done():
		return false
	case <-time.After(20 * time.Second):
		return true
	}
}

// countEvery is how long what was counted of banners may wait until it is kept.
const countEvery = 5 * time.Second

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

// measuring has a browser measure sites that were made elsewhere. A program that runs as root does without: the browser
// would have no sandbox there, and what it reads is not the house's own.
func measuring() former.Measure {
	if os.Geteuid() == 0 {
		return nil
	}
	return browser.Measure
}
