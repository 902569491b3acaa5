package main

import (
	"crypto/sha256"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"mivlet/core/fit"
	"mivlet/core/rules"
	"mivlet/desk/district"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// housesCommand looks after the houses that one program serves.
func housesCommand() *cobra.Command {
	dir := ""
	cmd := &cobra.Command{Use: "houses", Short: "Look after many houses: list them, or add one", Args: usageArgs(cobra.NoArgs),
		PersistentPreRunE: func(*cobra.Command, []string) error {
			if dir == "" {
				return usage{errors.New("give --houses DIR, the folder of the houses")}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, _ []string) error { return listHouses(cmd, dir) }}
	add := &cobra.Command{Use: "add HOST", Short: "Add a house that is asked for by a name, such as north.district.example", Args: usageArgs(cobra.ExactArgs(1)),
		RunE: func(cmd *cobra.Command, args []string) error { return addHouse(cmd, dir, strings.ToLower(args[0])) }}
	cmd.PersistentFlags().StringVar(&dir, "houses", "", "folder of the houses")
	cmd.AddCommand(add)
	return cmd
}

// addHouse makes the folder of a house, and says how to go on.
func addHouse(cmd *cobra.Command, dir, host string) error {
	err := layHouse(dir, host)
	if errors.Is(err, district.ErrName) {
		return usage{fmt.Errorf("invalid host %q: it is a name alone, such as north.district.example", host)}
	}
	if err != nil {
		return err
	}
	fmt.Fprintf(cmd.OutOrStdout(), "%s is there. When it is asked for first, the log tells the code that its first keeper needs.\n", host)
	return nil
}

// layHouse makes the folder of a house. Where the folder of all says that houses are kept in a database or a bucket, the
// new one is, too, under its own name.
func layHouse(dir, host string) error {
	if !hostForm.MatchString(host) || len(host) > 253 { // RFC 1035, 2.3.4
		return district.ErrName
	}
	all, err := datafolder.ReadSharedStorage(dir)
	if err != nil {
		return err
	}
	data := filepath.Join(dir, host)
	if err := os.Mkdir(data, 0o700); err != nil {
		return err
	}
	if !all.Elsewhere() {
		return nil
	}
	// A schema has a short name of few characters: those of two hosts that are told apart by others must not be one.
	name := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			return r
		}
		return '_'
	}, host)
	if all.Records.Postgres != "" {
		sum := sha256.Sum256([]byte(host))
		all.Records.House = fmt.Sprintf("h_%s_%x", name[:min(len(name), 20)], sum[:8])
	}
	if all.Files.S3 != "" {
		all.Files.S3 = strings.TrimSuffix(all.Files.S3, "/") + "/" + host
	}
	if err := errors.Join(all.Check(), all.Write(data)); err != nil {
		return errors.Join(err, os.RemoveAll(data))
	}
	return nil
}

// listHouses tells of each house how large it is, what is live, and what waits.
func listHouses(cmd *cobra.Command, dir string) error {
	hs := newHouses(dir, nil)
	names, err := hs.names()
	if err != nil {
		return usage{fmt.Errorf("invalid houses %q: %w", dir, err)}
	}
	w := tabwriter.NewWriter(cmd.OutOrStdout(), 0, 0, 2, ' ', tabwriter.AlignRight)
	fmt.Fprintln(w, "house\tpeople\tpictures\toriginals\tlive pages\tchanged since\tfindings\t")
	var failed error
	for _, name := range names {
		line, err := toldOf(filepath.Join(dir, name))
		if errors.Is(err, fs.ErrNotExist) {
			line, err = "0\t0\t0 B\t0\t0\t0\tnobody has asked for it yet", nil
		}
		if err != nil {
			failed = errors.Join(failed, fmt.Errorf("%s: %w", name, err))
			continue
		}
		fmt.Fprintf(w, "%s\t%s\n", name, line)
	}
	return errors.Join(w.Flush(), failed)
}

func toldOf(data string) (string, error) {
	kept, err := datafolder.OpenForReading(data)
	if err != nil {
		return "", err
	}
	of, err := figuresOf(&kept.Store)
	line := fmt.Sprintf("%d\t%d\t%s\t%d\t%d\t%d\t", of.People, of.Pictures, fit.Weight(of.Originals), of.Live, of.Changed, of.Findings)
	return line, errors.Join(err, kept.Close())
}

// figuresOf tells what a house holds.
func figuresOf(kept *store.Store) (f district.Figures, err error) {
	err = kept.View(func(s store.Records) error {
		r, _, err := s.Rules()
		if err != nil {
			return err
		}
		if r.House == rules.Default().House { // nobody has named it yet
			r.House = ""
		}
		people, err := s.CountPeople()
		if err != nil {
			return err
		}
		of, err := s.Census()
		if err != nil {
			return err
		}
		counts, err := s.Counts(nil)
		f = district.Figures{House: r.House, People: int(people), Pictures: of.Pictures, Originals: of.Originals, Live: int(counts.Live), Changed: int(counts.Changed), Findings: int(counts.Findings)}
		return err
	})
	return f, err
}
