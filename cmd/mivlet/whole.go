package main

import (
	"archive/zip"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"mivlet/core/fit"
	"mivlet/desk"
	"mivlet/edge/visitor"
	"mivlet/store/datafolder"
)

// export writes all of a house into one archive, also while Mivlet works on it.
func export(cmd *cobra.Command, data string, args []string) (err error) {
	trustRoots()
	h, err := openHouse(place{data: data, beside: true, siteURL: "http://127.0.0.1", visitor: visitor.New(), backing: &backing{}})
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, h.kept.Close()) }()
	e, err := h.kept.Export(args[0], time.Now(), func(z *zip.Writer) error { return liveSite(h.d, z) })
	if err == nil {
		fmt.Fprintf(cmd.OutOrStdout(), "%s holds all of %s: its records, %d files, %s, and its live pages below site/\n", args[0], e.House, e.Files, fit.Weight(e.Bytes))
	}
	return err
}

// siteFolder is where the live pages lie in an export.
const siteFolder = "site/"

// liveSite adds the live pages with their files, with links that hold wherever they lie.
func liveSite(d *desk.Desk, z *zip.Writer) error {
	return d.LiveSite(func(path string, file io.Reader) error {
		w, err := z.Create(siteFolder + path)
		if err == nil {
			_, err = io.Copy(w, file)
		}
		return err
	})
}

// eraseCommand erases a house.
func eraseCommand() *cobra.Command {
	title, receipt := "", ""
	cmd := onFolder("erase", "Erase a house for good, wherever it is kept, and write a receipt", 0, func(cmd *cobra.Command, data string, _ []string) error {
		if title == "" || receipt == "" {
			return usage{errors.New("erase needs --title, what the house is called, and --receipt, the file that tells what was erased")}
		}
		trustRoots()
		w, err := os.OpenFile(receipt, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
		if err != nil {
			return err
		}
		r, err := datafolder.Erase(cmd.Context(), data, title, time.Now())
		if err != nil {
			return errors.Join(err, w.Close(), os.Remove(receipt))
		}
		form := json.NewEncoder(w)
		form.SetIndent("", "  ")
		if err := errors.Join(form.Encode(r), w.Sync(), w.Close()); err != nil {
			return err
		}
		fmt.Fprintf(cmd.OutOrStdout(), "%s was erased: %d files, %s, and all its records. %s tells what it was.\n", r.House, r.Files, fit.Weight(r.Bytes), receipt)
		for _, left := range r.Left {
			fmt.Fprintf(cmd.OutOrStdout(), "Not erased from here: %s\n", left)
		}
		return nil
	})
	cmd.Flags().StringVar(&title, "title", "", "what the house is called: another one is not erased")
	cmd.Flags().StringVar(&receipt, "receipt", "", "file that is to tell what was erased; it must not be there yet")
	return cmd
}
