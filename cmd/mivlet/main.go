// Command mivlet runs Mivlet, with or without its demo, and cuts pictures from
// the command line.
package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"runtime/debug"
	"syscall"

	"github.com/spf13/cobra"
)

// Exit codes: some file failed; the call itself was wrong.
const (
	exitFailed = 1
	exitUsage  = 2
)

// errFailed ends the program with exitFailed after it has told why.
var errFailed = errors.New("failed")

// usage marks errors of the call itself.
type usage struct{ error }

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	context.AfterFunc(ctx, stop) // a second Ctrl-C ends it at once
	os.Exit(run(ctx, os.Args[1:], os.Stdout, os.Stderr))
}

func run(ctx context.Context, args []string, stdout, stderr io.Writer) int {
	root := &cobra.Command{
		Use:           "mivlet",
		Short:         "Brings pictures down to the place they will stand in",
		Version:       version(),
		SilenceErrors: true,
		SilenceUsage:  true,
		Args:          usageArgs(cobra.NoArgs),
		RunE:          func(cmd *cobra.Command, _ []string) error { return cmd.Help() },
	}
	root.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return usage{err} })
	root.AddCommand(demoCommand(), serveCommand(), factsCommand(), findCommand(), cutCommand(), nameCommand(), auditCommand(), mendCommand(), fetchCommand(), configCommand())
	root.AddCommand(keepCommands()...)
	root.SetArgs(args)
	root.SetOut(stdout)
	root.SetErr(stderr)
	err := root.ExecuteContext(ctx)
	var wrong usage
	switch {
	case err == nil:
		return 0
	case errors.Is(err, errFailed):
		return exitFailed
	case errors.As(err, &wrong):
		fmt.Fprintf(stderr, "mivlet: %v\nmivlet: see 'mivlet --help'\n", err)
		return exitUsage
	}
	fmt.Fprintf(stderr, "mivlet: %v\n", err)
	return exitFailed
}

// released is the version that scripts/release makes; empty where it made nothing.
var released string

// version is what was built: a released version, or the commit.
func version() string {
	if released != "" {
		return released
	}
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return "unknown"
	}
	if v := info.Main.Version; v != "" && v != "(devel)" {
		return v
	}
	for _, s := range info.Settings {
		if s.Key == "vcs.revision" {
			return s.Value
		}
	}
	return "unknown"
}

// usageArgs makes wrong arguments a wrong call.
func usageArgs(check cobra.PositionalArgs) cobra.PositionalArgs {
	return func(cmd *cobra.Command, args []string) error {
		if err := check(cmd, args); err != nil {
			return usage{err}
		}
		return nil
	}
}
