package main

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"net/url"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"mivlet/core/fit"
	"mivlet/core/mend"
	"mivlet/desk/access"
	"mivlet/desk/bringin"
	"mivlet/edge/crawl"
	"mivlet/internal/hosts"
)

// fetching is how a site is fetched from the web.
type fetching struct {
	out   string
	rest  time.Duration
	pages int
	bytes int64
	quiet bool
}

func fetchCommand() *cobra.Command {
	var o fetching
	cmd := &cobra.Command{
		Use: "fetch ADDRESS --out NEW.zip", Short: "Fetch a site from the web, to be looked through and mended", Args: usageArgs(cobra.ExactArgs(1)),
		Long: "Fetch a site from the web into a new archive: all that its first page leads to, on the same host.\n" +
			"What its robots.txt asks is done, and requests come one after the other, with a rest between them.\n" +
			"An address that ends with a slash stands for the pages below it.\n" +
			"Pages whose address has a question mark in it are left out. Fetch only what is yours.",
		RunE: func(cmd *cobra.Command, args []string) error { return o.run(cmd, args[0]) },
	}
	f := cmd.Flags()
	f.StringVar(&o.out, "out", "", "the new archive (….zip)")
	f.DurationVar(&o.rest, "rest", 500*time.Millisecond, "how long to rest between two requests, at least")
	f.IntVar(&o.pages, "pages", crawl.MostPages, "how many pages are fetched, at most")
	f.Int64Var(&o.bytes, "megabytes", crawl.MostBytes>>20, "how many MB are fetched, at most")
	f.BoolVar(&o.quiet, "quiet", false, "do not tell how far it is")
	return cmd
}

func (o *fetching) run(cmd *cobra.Command, address string) error {
	if !strings.EqualFold(filepath.Ext(o.out), ".zip") {
		return usage{errors.New("--out is missing: a new archive, such as site.zip")}
	}
	start, err := url.Parse(address)
	if err != nil {
		return usage{err}
	}
	options := crawl.Options{Agent: "Mivlet", Rest: o.rest, Pages: o.pages, Bytes: o.bytes << 20}
	if !o.quiet {
		options.Progress = func(done, left int) { fmt.Fprintf(cmd.ErrOrStderr(), "\r%d files, %d to go ", done, left) }
	}
	var result crawl.Result
	err = newArchive(o.out, func(archive *zip.Writer) (err error) {
		options.Keep = mend.Archive{Into: archive}.Put
		result, err = crawl.Site(cmd.Context(), start, options)
		return err
	})
	if !o.quiet {
		fmt.Fprintln(cmd.ErrOrStderr())
	}
	if err != nil {
		return err
	}
	out := cmd.OutOrStdout()
	fmt.Fprintf(out, "%s, %s, %s\n", access.Count(result.Pages, "page"), access.Count(result.Files, "file"), fit.Weight(result.Bytes))
	for _, l := range result.Left {
		fmt.Fprintf(out, "left out: %s: %s\n", l.Address, l.Why)
	}
	return nil
}

// How a site is fetched that Mivlet looks through by itself.
const (
	ownRest  = 300 * time.Millisecond
	ownPages = 1000
	ownBytes = 2 << 30
)

// fetchPolitely fetches a site for the program itself. One on this very machine needs no rest.
func fetchPolitely(ctx context.Context, start *url.URL, into bringin.Into) (leftOut []string, err error) {
	rest := ownRest
	if hosts.Loopback(start.Hostname()) {
		rest = 0
	}
	result, err := crawl.Site(ctx, start, crawl.Options{Agent: "Mivlet", Rest: rest, Pages: ownPages, Bytes: ownBytes, Have: into.Have, Keep: into.Keep, Progress: into.Progress})
	for _, l := range result.Left {
		leftOut = append(leftOut, l.Address+": "+l.Why)
	}
	return leftOut, err
}
