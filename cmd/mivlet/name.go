package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"mivlet/core/facts"
	"mivlet/core/naming"
	"mivlet/core/rules"
	"mivlet/sentences"
)

// nameLine is the JSON object that tells of one name.
type nameLine struct {
	File     string   `json:"file"`
	Name     string   `json:"name"` // with its extension, true to the content
	Steps    []string `json:"steps,omitempty"`
	Problems []string `json:"problems,omitempty"` // with --check
}

func nameCommand() *cobra.Command {
	var file, section, subject, date string
	var number int
	var check, asJSON bool
	cmd := &cobra.Command{
		Use: "name FILE...", Short: "Propose names by the convention of a house, or check them", Args: usageArgs(cobra.MinimumNArgs(1)),
		RunE: func(cmd *cobra.Command, files []string) error {
			house, err := readRules(file)
			if err != nil {
				return err
			}
			day, err := readDay(date)
			if err != nil {
				return usage{err}
			}
			failed := false
			for i, name := range files {
				k := house.Clues(section, day)
				k.Typed, k.Subject, k.Today, k.Fallback = filepath.Base(name), subject, time.Now(), "1"
				if k.Number = number; number > 0 || len(files) > 1 && subject != "" {
					k.Number = max(number, 1) + i
				}
				line, err := nameOne(house, name, k, check)
				if err != nil {
					fmt.Fprintf(cmd.ErrOrStderr(), "mivlet: %s: %v\n", name, err)
					failed = true
					continue
				}
				failed = failed || len(line.Problems) > 0
				tellName(cmd, line, check, asJSON)
			}
			if failed {
				return errFailed
			}
			return nil
		},
	}
	f := cmd.Flags()
	f.StringVar(&file, "rules", "", "file of house rules (JSON); without it the ready-made ones")
	f.StringVar(&section, "section", "", "code of the section")
	f.StringVar(&subject, "subject", "", "what the pictures show; several are numbered")
	f.StringVar(&date, "date", "", "the day, such as 2026-09-12; without it the day the picture was taken")
	f.IntVar(&number, "number", 0, "number of the first one")
	f.BoolVar(&check, "check", false, "check the names that the files have instead")
	f.BoolVar(&asJSON, "json", false, "one JSON object for each file")
	return cmd
}

// nameOne proposes the name of one file, or checks the one it has.
func nameOne(house rules.Rules, path string, k naming.Clues, check bool) (nameLine, error) {
	line := nameLine{File: path}
	f, err := os.Open(path)
	if err != nil {
		return line, plain(err)
	}
	defer f.Close()
	known, err := facts.Read(f)
	if err != nil {
		return line, err
	}
	if k.Taken.IsZero() {
		k.Taken = known.Taken
	}
	k.Alt = known.Alt
	if !check {
		p := house.Naming.Propose(k)
		line.Name, line.Steps = p.Name+facts.Extension(known.MediaType), p.Steps
		return line, nil
	}
	base := filepath.Base(path)
	ext := filepath.Ext(base)
	line.Name = base
	for _, p := range house.Naming.Check(strings.TrimSuffix(base, ext), k) {
		line.Problems = append(line.Problems, sentences.Problem(p))
	}
	if want := facts.Extension(known.MediaType); ext != want {
		line.Problems = append(line.Problems, fmt.Sprintf("Its content is %s: the extension is %s.", known.MediaType, want))
	}
	return line, nil
}

func tellName(cmd *cobra.Command, line nameLine, check, asJSON bool) {
	out := cmd.OutOrStdout()
	if asJSON {
		_ = json.NewEncoder(out).Encode(line)
		return
	}
	switch {
	case !check:
		fmt.Fprintln(out, line.Name)
	case len(line.Problems) == 0:
		fmt.Fprintf(out, "%s is good\n", line.Name)
	default:
		fmt.Fprintf(out, "%s breaks the convention\n", line.Name)
	}
	for _, s := range append(line.Steps, line.Problems...) {
		fmt.Fprintf(out, "  %s\n", s)
	}
}

func readRules(file string) (rules.Rules, error) {
	if file == "" {
		return rules.Default(), nil
	}
	data, err := os.ReadFile(file)
	if err != nil {
		return rules.Rules{}, plain(err)
	}
	r, err := rules.Parse(data)
	if err != nil {
		return r, fmt.Errorf("%s: %w", file, err)
	}
	return r, nil
}

func readDay(s string) (time.Time, error) {
	if s == "" {
		return time.Time{}, nil
	}
	day, err := time.Parse("2006-01-02", s)
	if err != nil {
		return day, errors.New("a date is written like 2026-09-12")
	}
	return day, nil
}
