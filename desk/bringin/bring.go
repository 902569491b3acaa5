package bringin

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"io"
	"path"
	"strings"

	"mivlet/core/survey"
	"mivlet/desk/access"
	"mivlet/store"
)

// Limits of what is brought in.
const (
	mostBytes    = 4 << 30  // of an archive
	mostUnpacked = 40 << 30 // of all files in one
	mostFiles    = 200_000
	mostTitle    = 120 // letters
)

// Bring takes an archive of a site in. name is what it is called; hosts are the names that the site is reached
// at. It is read through at once, and refused where no page is in it.
func (d *Desk) Bring(ctx context.Context, name string, r io.Reader, hosts []string) (store.FormerSite, error) {
	if err := d.MayKeep(); err != nil {
		return store.FormerSite{}, err
	}
	f := store.FormerSite{Title: titleOf(name), Hosts: hosts}
	return f, d.take(ctx, name, r, &f)
}

// take takes an archive in as a site: as a new one, or in the place of what was fetched of it before. What of f is
// known only when all has been read may be set until then.
func (d *Desk) take(ctx context.Context, name string, r io.Reader, f *store.FormerSite) error {
	in, err := d.Store.Files.Receive(io.LimitReader(r, mostBytes+1))
	if err != nil {
		return fmt.Errorf("%s could not be taken in: %w", name, err)
	}
	defer in.Discard()
	if in.Bytes > mostBytes {
		return access.Refuse(access.TooMuch, fmt.Sprintf("%s is larger than %d GB.", name, mostBytes>>30), "Bring parts of the site, one after the other.")
	}
	if f.Unfinished && in.Bytes <= f.Bytes {
		return nil // it was stopped before more came than was here
	}
	z, err := zip.NewReader(in, in.Bytes)
	if err != nil {
		return access.Because(access.Bad, name+" is no ZIP archive.", "Pack the folder that the site is served from, or choose the folder itself.", err)
	}
	if err := checkSize(name, z); err != nil {
		return err
	}
	site, err := survey.Top(z)
	if err != nil {
		return access.Because(access.Bad, name+" is damaged.", "Pack the folder again.", err)
	}
	found, err := survey.Read(ctx, site, survey.Options{Hosts: f.Hosts})
	if err != nil {
		return err
	}
	report := found.Report()
	if report.Sum.Pages == 0 {
		return access.Refuse(access.Bad, "There is no page in "+name+".", "Choose the folder that the site is served from: the one with index.html in it.")
	}
	if err := in.Keep("application/zip"); err != nil {
		return err
	}
	f.Hash, f.Bytes, f.Sum, f.AddedAt = in.Hash, in.Bytes, report.Sum, d.Now()
	err = d.Store.Tx(func(s store.Records) error {
		if f.ID != 0 {
			return errors.Join(s.SaveFetched(*f), d.Trace(s, "", "Fetched more of a former site: %s (%s)", f.Title, access.Count(report.Sum.Pages, "page")))
		}
		f.Person = d.Person.Name
		return errors.Join(s.AddFormerSite(f), d.Trace(s, "", "Brought in a former site: %s (%s)", f.Title, access.Count(report.Sum.Pages, "page")))
	})
	if err == nil {
		d.former.Remember(*f, found, report)
	}
	return err
}

// checkSize refuses an archive that says that far more is in it than a site has.
func checkSize(name string, z *zip.Reader) error {
	var all uint64
	for _, f := range z.File {
		all += f.UncompressedSize64
	}
	if len(z.File) > mostFiles || all > mostUnpacked {
		return access.Refuse(access.TooMuch, fmt.Sprintf("%s holds more than %d files or %d GB.", name, mostFiles, mostUnpacked>>30), "Bring parts of the site, one after the other.")
	}
	return nil
}

func titleOf(name string) string {
	name = path.Base(strings.ReplaceAll(name, `\`, "/"))
	if ext := path.Ext(name); strings.EqualFold(ext, ".zip") { // a host has a dot before its end, too
		name = strings.TrimSuffix(name, ext)
	}
	name = strings.TrimSpace(name)
	if letters := []rune(name); len(letters) > mostTitle {
		name = string(letters[:mostTitle])
	}
	if name == "" || name == "." || name == "/" {
		return "Former site"
	}
	return name
}

// Folder gives the files of a folder one after the other: the path of each, and what it holds. It ends with
// [io.EOF].
type Folder func() (at string, r io.Reader, err error)

// BringFolder takes the files of a folder in, as they come.
func (d *Desk) BringFolder(ctx context.Context, name string, next Folder, hosts []string) (store.FormerSite, error) {
	if err := d.MayKeep(); err != nil {
		return store.FormerSite{}, err
	}
	f := store.FormerSite{Title: titleOf(name), Hosts: hosts}
	return f, d.takeFolder(ctx, name, next, &f)
}

func (d *Desk) takeFolder(ctx context.Context, name string, next Folder, f *store.FormerSite) error {
	out, in := io.Pipe()
	packed := make(chan struct{})
	go func() {
		defer close(packed)
		in.CloseWithError(pack(in, next))
	}()
	err := d.take(ctx, name, out, f)
	out.CloseWithError(errors.Join(err, io.ErrClosedPipe))
	<-packed
	return err
}

// pack writes files as an archive. Their paths do not lead out of it.
func pack(w io.Writer, next Folder) error {
	z := zip.NewWriter(w)
	for n := 0; ; n++ {
		at, r, err := next()
		if errors.Is(err, io.EOF) {
			return z.Close()
		}
		if err != nil {
			return err
		}
		at = strings.TrimPrefix(path.Clean("/"+strings.ReplaceAll(at, `\`, "/")), "/")
		if at == "" || n >= mostFiles {
			continue
		}
		f, err := z.CreateHeader(&zip.FileHeader{Name: at, Method: zip.Store})
		if err != nil {
			return err
		}
		if _, err := io.Copy(f, r); err != nil {
			return err
		}
	}
}
