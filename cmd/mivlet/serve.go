package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/netip"
	"os"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"mivlet/demo"
	"mivlet/desk"
	"mivlet/desk/derive"
	"mivlet/desk/former"
	"mivlet/desk/publish"
	"mivlet/edge/browser"
	"mivlet/edge/visitor"
	"mivlet/internal/health"
	"mivlet/internal/hosts"
	"mivlet/internal/metrics"
	"mivlet/internal/proxied"
	"mivlet/internal/traces"
	"mivlet/internal/under"
	"mivlet/practice/previewer"
	"mivlet/web"
)

// serving is what both demo and serve are told.
type serving struct {
	addr, siteAddr, data string
	houses               string // folder of many houses; empty where there is one
	leaveJobs            bool   // long jobs are done by other programs
	office               string // the house whose keepers look after all; empty where nobody does
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
			switch {
			case o.houses != "" && o.data != "":
				return usage{errors.New("serve runs one house, with --data, or many, with --houses, and not both")}
			case o.houses != "":
				return o.runMany(cmd.Context(), cmd.OutOrStdout())
			case o.data == "":
				return usage{errors.New("serve needs --data DIR, the folder where everything is kept")}
			}
			return o.run(cmd.Context(), cmd.OutOrStdout(), false)
		},
	}
	o.serveFlags(cmd)
	return cmd
}

// serveFlags are the settings of serve: those of the demo, and whether there are many houses.
func (o *serving) serveFlags(cmd *cobra.Command) {
	o.flags(cmd)
	cmd.Flags().BoolVar(&o.leaveJobs, "leave-jobs", false, "leave long jobs to other Mivlets on the same house")
	cmd.Flags().StringVar(&o.office, "office", "", "name of the house whose keepers see all houses, and say how much each may have")
	cmd.Flags().StringVar(&o.houses, "houses", "", "folder of many houses, each in a folder that has the name that it is asked for by, such as north.district.example")
}

// setup is what the settings come to.
type setup struct {
	proxies  []netip.Prefix
	base     string
	overTLS  bool
	decoding *derive.Budget
	counted  *metrics.Metrics
	main     net.Listener // of Mivlet
	public   net.Listener // of the practice site
	end      func()       // ends what was begun
}

// count counts a request.
func (s setup) count(a web.Answered) { s.counted.Count(metrics.Request(a)) }

// settle reads settings that need more than a look, and begins what goes on from then on.
func (o *serving) settle(ctx context.Context) (s setup, err error) {
	if err := o.checkTLS(); err != nil {
		return s, usage{err}
	}
	log, err := logger(o.logs, os.Stderr)
	if err != nil {
		return s, usage{err}
	}
	if log != slog.Default() {
		slog.SetDefault(log)
	}
	if s.proxies, err = proxied.ParseProxies(o.proxies); err != nil {
		return s, usage{err}
	}
	if s.base, err = under.Parse(o.path); err != nil {
		return s, usage{err}
	}
	memory, err := limitMemory(o.memory)
	if err != nil {
		return s, usage{err}
	}
	s.decoding = derive.NewBudget(decodingShare(memory))
	s.overTLS = o.cert != "" || o.certified.on || o.behindTLS
	s.counted = metrics.New()
	trustRoots()
	sent := func(context.Context) error { return nil }
	if o.tracesTo != "" {
		if sent, err = traces.Start(o.tracesTo, version()); err != nil {
			return s, usage{err}
		}
	}
	if s.main, err = listen(o.addr, usualAddr); err != nil {
		return s, err
	}
	if s.public, err = listen(o.siteAddr, usualSite); err != nil {
		return s, errors.Join(err, s.main.Close())
	}
	s.end = func() {
		_, _ = s.main.Close(), s.public.Close()                                        // where they were not served
		last, cancel := context.WithTimeout(context.WithoutCancel(ctx), 3*time.Second) // what is left is sent while somebody is there to take it
		defer cancel()
		if err := sent(last); err != nil {
			slog.Warn("the last traces could not be sent", "error", err)
		}
	}
	return s, nil
}

// run serves until ctx ends, then lets requests finish.
func (o *serving) run(ctx context.Context, out io.Writer, withDemo bool) (err error) {
	if err := o.backing.check(o.data); err != nil {
		return usage{err}
	}
	s, err := o.settle(ctx)
	if err != nil {
		return err
	}
	defer s.end()
	outside, err := listen(o.previewerAddr, usualPreviewer)
	if err != nil {
		return err
	}
	defer outside.Close()
	siteURL, previewerURL := "http://"+s.public.Addr().String(), "http://"+outside.Addr().String()
	shared, err := previewer.New(siteURL, previewer.Usual, time.Now)
	if err != nil {
		return err
	}
	h, err := openHouse(place{data: o.data, leaveJobs: o.leaveJobs, siteURL: siteURL, previewerURL: previewerURL, base: s.base, demo: withDemo, upTo: o.upTo, overTLS: s.overTLS,
		visitor: visitor.New(), decoding: s.decoding, backing: &o.backing, sealer: o.sealer(), answered: s.count})
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, h.kept.Close()) }()
	s.counted.Watch(gauges(h.d, h.on)...)
	if err := h.d.Jobs.Resume(); err != nil { // before anybody can begin another
		return err
	}
	return o.answer(ctx, out, s, front{app: hosts.Check(o.hosts, h.screens), site: hosts.Check(o.hosts, h.visitors), ready: health.Check{Name: "data", Do: h.kept.Ready},
		ending: h.ending, end: h.end, beside: []listening{{outside, hosts.Check(o.hosts, shared.Handler())}},
		begin: func(ctx context.Context) func() {
			duties := h.begin(ctx)
			return func() {
				duties.Wait()
				h.d.Jobs.End()
			}
		},
		tell: func(out io.Writer, reached, public string) {
			keptIn, err := filepath.Abs(o.data)
			if err != nil {
				keptIn = o.data
			}
			fmt.Fprintf(out, "Mivlet         %s\nPractice site  %s\nPreviewer      %s\nKept in        %s\n", reached, public, previewerURL, keptIn)
			if code, err := h.firstCode(); err == nil && code != "" {
				fmt.Fprintf(out, "First keeper   %s/first?code=%s\n", reached, code)
			}
		}})
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

// sandboxed says whether a browser may look at sites that were made elsewhere. A program that runs as root does without:
// the browser would have no sandbox there, and what it reads is not the house's own.
func sandboxed() bool { return os.Geteuid() != 0 }

// measuring has a browser measure sites that were made elsewhere.
func measuring() former.Measure {
	if !sandboxed() {
		return nil
	}
	return browser.Measure
}

// comparing has a browser compare them, when they have been mended.
func comparing() former.Compare {
	if !sandboxed() {
		return nil
	}
	return browser.Compare
}
