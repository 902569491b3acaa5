package main

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"mivlet/core/facts"
)

// factsLine is the JSON object that tells of one file.
type factsLine struct {
	File         string `json:"file"`
	MediaType    string `json:"media_type"`
	Width        int    `json:"width"` // upright
	Height       int    `json:"height"`
	StoredWidth  int    `json:"stored_width"`
	StoredHeight int    `json:"stored_height"`
	Orientation  int    `json:"orientation"`
	Frames       int    `json:"frames"`
	Loop         int    `json:"loop"` // 0 plays for ever
	DurationMS   int64  `json:"duration_ms"`
	Bytes        int64  `json:"bytes"`
	Profile      string `json:"profile"`
	Alpha        bool   `json:"alpha"`
	GPS          bool   `json:"gps"`
	Thumbnail    bool   `json:"thumbnail"`
	Taken        string `json:"taken"` // as the camera's clock said, without zone; "" where nothing is told
	Alt          string `json:"alt"`
	Description  string `json:"description"`
	Credit       string `json:"credit"`
	SHA256       string `json:"sha256"`
}

func factsCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use: "facts FILE...", Short: "Tell what a picture is and what it carries", Args: usageArgs(cobra.MinimumNArgs(1)),
		RunE: func(cmd *cobra.Command, files []string) error {
			bad := false
			for _, name := range files {
				line, err := readFacts(name)
				if err != nil {
					fmt.Fprintf(cmd.ErrOrStderr(), "mivlet: %s: %v\n", name, err)
					bad = true
					continue
				}
				line.write(cmd.OutOrStdout(), asJSON)
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

func readFacts(name string) (factsLine, error) {
	f, err := os.Open(name)
	if err != nil {
		return factsLine{}, plain(err)
	}
	defer f.Close()
	k, err := facts.Read(f)
	if err != nil {
		return factsLine{}, err
	}
	if _, err := f.Seek(0, io.SeekStart); err != nil {
		return factsLine{}, err
	}
	sum := sha256.New()
	if _, err := io.Copy(sum, f); err != nil {
		return factsLine{}, plain(err)
	}
	size := k.Upright()
	line := factsLine{File: name, MediaType: k.MediaType, Width: size.W, Height: size.H, StoredWidth: k.Stored.W, StoredHeight: k.Stored.H,
		Orientation: int(k.Orientation), Frames: k.Frames, Loop: k.Loop, DurationMS: k.DurationMS, Bytes: k.Bytes, Profile: k.Profile,
		Alpha: k.Alpha, GPS: k.Position, Thumbnail: k.Thumbnail, Alt: k.Alt, Description: k.Description, Credit: k.Credit,
		SHA256: hex.EncodeToString(sum.Sum(nil))}
	if !k.Taken.IsZero() {
		line.Taken = k.Taken.Format("2006-01-02T15:04:05")
	}
	return line, nil
}

func (l factsLine) write(w io.Writer, asJSON bool) {
	if asJSON {
		_ = json.NewEncoder(w).Encode(l)
		return
	}
	fmt.Fprintf(w, "%s  %s  %d × %d  %d bytes", l.File, l.MediaType, l.Width, l.Height, l.Bytes)
	for _, flag := range []struct {
		is   bool
		text string
	}{
		{l.Orientation > 1, fmt.Sprintf("stored in orientation %d", l.Orientation)}, {l.Frames > 1, fmt.Sprintf("%d frames", l.Frames)},
		{l.GPS, "position inside"}, {l.Thumbnail, "thumbnail inside"}, {l.Profile != "", l.Profile}, {l.Taken != "", "taken " + l.Taken},
	} {
		if flag.is {
			fmt.Fprintf(w, "  %s", flag.text)
		}
	}
	fmt.Fprintln(w)
}
