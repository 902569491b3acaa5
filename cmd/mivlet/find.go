package main

import (
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"time"

	"github.com/spf13/cobra"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk/derive"
	"mivlet/edge/tesseract"
)

type foundFace struct {
	Box   fit.Box `json:"box"`
	Score float64 `json:"score"`
}

type foundLine struct {
	Box    fit.Box `json:"box"`
	Score  float64 `json:"score"`
	Read   string  `json:"read"` // what it says; "" where nobody read it
	Kind   string  `json:"kind"` // text, number or private
	Column int     `json:"column"`
}

// findLine is the JSON object that tells what was found in one file.
type findLine struct {
	File  string      `json:"file"`
	Faces []foundFace `json:"faces"`
	Lines []foundLine `json:"lines"`
}

func findCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use: "find FILE...", Short: "Find faces and lines of text in pictures", Args: usageArgs(cobra.MinimumNArgs(1)),
		Long: "Find faces and lines of text in pictures. Places are in pixels of the upright picture.\nWhat is written is read where the program tesseract is installed.",
		RunE: func(cmd *cobra.Command, files []string) error {
			bad := false
			for _, name := range files {
				line, err := find(name)
				if err != nil {
					fmt.Fprintf(cmd.ErrOrStderr(), "mivlet: %s: %v\n", name, err)
					bad = true
					continue
				}
				if asJSON {
					_ = json.NewEncoder(cmd.OutOrStdout()).Encode(line)
					continue
				}
				fmt.Fprintf(cmd.OutOrStdout(), "%s  %d faces  %d lines of text\n", name, len(line.Faces), len(line.Lines))
			}
			if bad {
				return errFailed
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "one JSON object for each file on standard output")
	return cmd
}

func find(name string) (findLine, error) {
	out := findLine{File: name, Faces: []foundFace{}, Lines: []foundLine{}}
	f, err := os.Open(name)
	if err != nil {
		return out, plain(err)
	}
	defer f.Close()
	known, err := facts.Read(f)
	if err != nil {
		return out, err
	}
	src, err := raster.Decode(f, known, usualLimits())
	if err != nil {
		return out, err
	}
	for _, one := range derive.FindFacesClosely(src) {
		out.Faces = append(out.Faces, foundFace{fit.BoxOf(one.Bounds), one.Score})
	}
	for _, l := range linesIn(src) {
		said := ""
		if l.Read {
			said = l.Words
		}
		out.Lines = append(out.Lines, foundLine{fit.BoxOf(l.Bounds), l.Score, said, l.Kind, l.Column})
	}
	return out, nil
}

// linesIn are the lines of text of a picture, in pixels of the upright original, as the
// desk finds them.
func linesIn(src *raster.Source) []derive.TextLine {
	whole := src.Upright()
	return derive.Judged(derive.FindLines(src.Glance(derive.CopySize(whole)).Image(), whole, tesseract.Reader{Patience: time.Minute}), nil)
}

// foundVeils are veils over what is found in a picture: "faces" or "text".
func foundVeils(what []string, src *raster.Source) []recipe.Edit {
	var edits []recipe.Edit
	hide := func(v veil.Veil) { edits = append(edits, recipe.Edit{Op: recipe.OpVeil, Veil: &v}) }
	if slices.Contains(what, foundFaces) {
		for _, f := range derive.FindFacesClosely(src) {
			hide(veil.Veil{Shape: veil.Ellipse, Bounds: f.Round(), Style: veil.Cover, Reason: veil.Face})
		}
	}
	if slices.Contains(what, foundText) {
		for _, l := range linesIn(src) {
			hide(veil.Veil{Shape: veil.Rect, Bounds: l.Level, Style: veil.Cover, Reason: l.Reason, Letters: l.Height})
		}
	}
	return edits
}

// What can be hidden wherever it is found.
const (
	foundFaces = "found:faces"
	foundText  = "found:text"
)
