package main

import (
	"cmp"
	"crypto/tls"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/BurntSushi/toml"
	"github.com/spf13/cobra"
	"github.com/spf13/pflag"

	"mivlet/internal/proxied"
	"mivlet/internal/sealed"
	"mivlet/internal/traces"
	"mivlet/internal/under"
)

// Every setting of serve can be given in three ways: as a flag, in the environment, in a file. The first
// of them that is there holds.

// configFlag names the file.
const configFlag = "config"

// inEnvironment is what a setting is called there.
func inEnvironment(setting string) string {
	return "MIVLET_" + strings.ToUpper(strings.ReplaceAll(setting, "-", "_"))
}

// settle gives the flags that were not given the values of the environment, else of the file, and returns
// where each setting that is no default comes from.
func settle(flags *pflag.FlagSet, env func(string) (string, bool)) (from map[string]string, err error) {
	from = map[string]string{}
	flags.Visit(func(f *pflag.Flag) { from[f.Name] = "--" + f.Name })
	set := func(f *pflag.Flag, value, where string) {
		if bad := flags.Set(f.Name, value); bad != nil {
			err = errors.Join(err, usage{fmt.Errorf("invalid %s %q in %s: %w", f.Name, value, where, bad)})
		}
		from[f.Name] = where
	}
	each := func(do func(*pflag.Flag)) {
		flags.VisitAll(func(f *pflag.Flag) {
			if from[f.Name] == "" && f.Name != "help" {
				do(f)
			}
		})
	}
	each(func(f *pflag.Flag) {
		if value, there := env(inEnvironment(f.Name)); there {
			set(f, value, inEnvironment(f.Name))
		}
	})
	file := flags.Lookup(configFlag).Value.String()
	if file == "" {
		return from, err
	}
	values, bad := readConfig(file)
	if bad != nil {
		return from, errors.Join(err, usage{bad})
	}
	for name := range values {
		if flags.Lookup(name) == nil || name == configFlag || name == "help" {
			err = errors.Join(err, usage{fmt.Errorf("invalid setting %q in %s: %s", name, file, settingsText(flags))})
		}
	}
	each(func(f *pflag.Flag) {
		if value, there := values[f.Name]; there && f.Name != configFlag {
			set(f, value, file)
		}
	})
	return from, err
}

func settingsText(flags *pflag.FlagSet) string {
	var all []string
	flags.VisitAll(func(f *pflag.Flag) {
		if f.Name != configFlag && f.Name != "help" {
			all = append(all, f.Name)
		}
	})
	return "the settings are " + strings.Join(all, ", ")
}

// readConfig reads the settings of a file (TOML 1.0), as flags are written.
func readConfig(file string) (map[string]string, error) {
	raw := map[string]any{}
	if _, err := toml.DecodeFile(file, &raw); err != nil {
		return nil, fmt.Errorf("invalid settings in %s: %w", file, err)
	}
	all := map[string]string{}
	for name, value := range raw {
		switch v := value.(type) {
		case string, bool, int64, float64:
			all[name] = fmt.Sprint(v)
		case []any:
			parts := make([]string, len(v))
			for i, one := range v {
				parts[i] = fmt.Sprint(one)
			}
			all[name] = strings.Join(parts, ",")
		default:
			return nil, fmt.Errorf("invalid setting %q in %s: it must be a text, a number, true, false or a list of texts", name, file)
		}
	}
	return all, nil
}

func configCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use: "config", Short: "Tell and check the settings of serve", Args: usageArgs(cobra.NoArgs),
		Long: "Settings of serve are flags (--site-addr), stand in the environment (MIVLET_SITE_ADDR), or in a file.\nThe file is TOML (site-addr = \"127.0.0.1:8418\"), and --config or MIVLET_CONFIG names it.\nOf these three, the first that is there holds.",
		RunE: func(cmd *cobra.Command, _ []string) error { return cmd.Help() },
	}
	var o serving
	check := &cobra.Command{
		Use: "check", Short: "Tell which settings would hold, where they come from, and what is wrong with them", Args: usageArgs(cobra.NoArgs),
	}
	o.serveFlags(check)
	check.PreRunE = nil
	check.RunE = func(cmd *cobra.Command, _ []string) error {
		from, err := settle(cmd.Flags(), os.LookupEnv)
		tellSettings(cmd.OutOrStdout(), cmd.Flags(), from)
		if err = errors.Join(err, o.check()); err != nil {
			return usage{err}
		}
		fmt.Fprintln(cmd.OutOrStdout(), "Nothing is wrong with them.")
		return nil
	}
	cmd.AddCommand(check)
	return cmd
}

// tellSettings writes one line for each setting: its value, and where that comes from.
func tellSettings(out io.Writer, flags *pflag.FlagSet, from map[string]string) {
	flags.VisitAll(func(f *pflag.Flag) {
		if f.Name == "help" || f.Name == configFlag {
			return
		}
		where := from[f.Name]
		if where == "" {
			where = "default"
		}
		fmt.Fprintf(out, "%-18s %-30q %s\n", f.Name, f.Value.String(), where)
	})
}

// check tells everything that is wrong with the settings, without changing or starting anything.
func (o *serving) check() error {
	var all []error
	wrong := func(format string, args ...any) { all = append(all, fmt.Errorf(format, args...)) }
	if o.houses != "" {
		if o.data != "" {
			wrong("invalid houses %q: serve runs one house, with data, or many, and not both", o.houses)
		}
		all = append(all, checkHouses(o.houses, o.office))
	} else if o.data == "" {
		wrong("data is missing: the folder where everything is kept")
	} else if at, err := os.Stat(existing(o.data)); err != nil || !at.IsDir() {
		wrong("invalid data %q: it is no folder, and none can be made there", o.data)
	}
	addresses := map[string]string{}
	for _, a := range [][2]string{{"addr", o.addr}, {"site-addr", o.siteAddr}, {"previewer-addr", o.previewerAddr}, {"metrics-addr", o.metricsAddr}} {
		name, addr := a[0], a[1]
		if addr == "" {
			continue
		}
		if _, err := net.ResolveTCPAddr("tcp", addr); err != nil {
			wrong("invalid %s %q: it is written like 127.0.0.1:8417", name, addr)
		}
		if other := addresses[addr]; other != "" {
			wrong("invalid %s %q: %s has it already", name, addr, other)
		}
		addresses[addr] = name
	}
	if err := o.checkTLS(); err != nil {
		all = append(all, err)
	} else if o.cert != "" {
		if _, err := tls.LoadX509KeyPair(o.cert, o.key); err != nil {
			wrong("invalid cert %q with key %q: %w", o.cert, o.key, err)
		}
	}
	for _, check := range []func() error{
		func() error {
			if o.tracesTo == "" {
				return nil
			}
			return traces.CheckAddress(o.tracesTo)
		},
		func() error { return o.backing.check(cmp.Or(o.houses, o.data)) },
		func() error { _, err := proxied.ParseProxies(o.proxies); return err },
		func() error { _, err := under.Parse(o.path); return err },
		func() error { _, err := logger(o.logs, io.Discard); return err },
	} {
		if err := check(); err != nil {
			all = append(all, err)
		}
	}
	if o.memory != "" {
		if _, err := readBytes(o.memory); err != nil {
			all = append(all, err)
		}
	}
	if o.keyFile != "" {
		if _, err := os.Stat(o.keyFile); err == nil {
			if _, err := sealed.Load(o.keyFile); err != nil {
				all = append(all, err)
			}
		}
	}
	if i := slices.IndexFunc(o.hosts, func(h string) bool { return strings.ContainsAny(h, "/ ") }); i >= 0 {
		wrong("invalid host %q: it is a name alone, such as mivlet.club.example", o.hosts[i])
	}
	return errors.Join(all...)
}

// existing is the nearest folder above a path that is there.
func existing(path string) string {
	for path != filepath.Dir(path) {
		if _, err := os.Stat(path); !errors.Is(err, os.ErrNotExist) {
			return path
		}
		path = filepath.Dir(path)
	}
	return path
}
