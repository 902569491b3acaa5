package datafolder

import (
	"archive/zip"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"time"

	"mivlet/store"
	"mivlet/store/folder"
	"mivlet/store/relational"
)

// An export is one archive (ZIP, APPNOTE 6.3) with all of a house, in forms that any program can read:
//
//	house.json             what it is
//	records/pictures.jsonl the records, a file for each table, a line of JSON for each row
//	files/ba7816bf…        what pictures and pages are made of, named by its SHA-256
//	files.json             their media types
//	site/…                 the live pages with their files, as a site that lies anywhere
//
// It holds no keys, and nobody is signed in to it. Its site is not read back: pages are live from the records.

// ExportVersion is the form of exports that this program writes and reads.
const ExportVersion = 1

// Exported tells of an export.
type Exported struct {
	Version int       `json:"version"`
	At      time.Time `json:"at"`
	House   string    `json:"house"` // its title
	Files   int       `json:"files"`
	Bytes   int64     `json:"bytes"` // of the files
}

const (
	houseEntry   = "house.json"
	recordsEntry = "records/%s.jsonl"
	filesEntry   = "files/"
	typesEntry   = "files.json"
)

// Export writes all of a house into an archive that is not there yet, while others may work on it. site adds the
// live pages; it may be nil. The archive appears when it is whole.
func (f *Folder) Export(to string, now time.Time, site func(z *zip.Writer) error) (e Exported, err error) {
	if _, err := os.Lstat(to); err == nil {
		return e, fmt.Errorf("%s is there already", to)
	}
	err = AgainWhereErased(func() error {
		part, err := os.CreateTemp(filepath.Dir(to), ".export-*")
		if err != nil {
			return err
		}
		defer os.Remove(part.Name()) //nolint:errcheck // it has its name by then
		if e, err = f.exportInto(part, now, site); err != nil {
			return errors.Join(err, part.Close())
		}
		if err := errors.Join(part.Sync(), part.Close()); err != nil {
			return err
		}
		return os.Rename(part.Name(), to)
	})
	if err != nil {
		return e, err
	}
	return e, folder.SyncFolder(filepath.Dir(to))
}

func (f *Folder) exportInto(w io.Writer, now time.Time, site func(z *zip.Writer) error) (e Exported, err error) {
	z := zip.NewWriter(w)
	rules, _, err := f.Rules()
	if err != nil {
		return e, err
	}
	e = Exported{Version: ExportVersion, At: now.UTC(), House: rules.House}
	// Records and the files that they name are those of one moment; a file that is erased after it is not found.
	var named map[string]bool
	err = f.records.View(func(s store.Records) (err error) {
		at := s.(*relational.Records)
		if err := at.Export(func(table string) (io.Writer, error) { return z.Create(fmt.Sprintf(recordsEntry, table)) }); err != nil {
			return err
		}
		named, err = at.NamedFiles()
		return err
	})
	if err != nil {
		return e, err
	}
	types := map[string]string{}
	for _, hash := range slices.Sorted(maps.Keys(named)) {
		n, kind, err := f.exportFile(z, hash)
		if err != nil {
			return e, err
		}
		types[hash] = kind
		e.Files++
		e.Bytes += n
	}
	if site != nil {
		if err := site(z); err != nil {
			return e, err
		}
	}
	for name, of := range map[string]any{typesEntry: types, houseEntry: e} {
		w, err := z.Create(name)
		if err != nil {
			return e, err
		}
		if err := json.NewEncoder(w).Encode(of); err != nil {
			return e, err
		}
	}
	return e, z.Close()
}

// exportFile adds a file as it is: pictures do not become smaller.
func (f *Folder) exportFile(z *zip.Writer, hash string) (int64, string, error) {
	r, err := f.Files.Open(hash)
	if err != nil {
		return 0, "", err
	}
	defer r.Close()
	w, err := z.CreateHeader(&zip.FileHeader{Name: filesEntry + hash, Method: zip.Store})
	if err != nil {
		return 0, "", err
	}
	n, err := io.Copy(w, r)
	return n, r.MediaType(), err
}

// Import makes a house of an export in a data folder that is not there yet or is empty. Every file must have the
// content that it is named by, and the records must be whole.
func Import(from, to string) (e Exported, err error) {
	z, err := zip.OpenReader(from)
	if err != nil {
		return e, fmt.Errorf("%s cannot be read: %w", from, err)
	}
	defer z.Close()
	if err := readJSON(z, houseEntry, &e); err != nil {
		return e, fmt.Errorf("%s is no export of a house: %w", from, err)
	}
	if e.Version != ExportVersion {
		return e, fmt.Errorf("%s was written in form %d, and this Mivlet reads %d", from, e.Version, ExportVersion)
	}
	_, err = IntoFresh(to, func(part string) (Copied, error) { return Copied{}, importInto(z, part) })
	return e, err
}

func importInto(z *zip.ReadCloser, part string) (err error) {
	into, err := Open(part)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, into.Close()) }()
	types := map[string]string{}
	if err := readJSON(z, typesEntry, &types); err != nil {
		return err
	}
	for hash, kind := range types {
		if err := importFile(z, into.Files, hash, kind); err != nil {
			return err
		}
	}
	err = into.records.Import(func(table string) (io.ReadCloser, error) {
		r, err := z.Open(fmt.Sprintf(recordsEntry, table))
		if errors.Is(err, fs.ErrNotExist) {
			return nil, nil
		}
		return r, err
	})
	if err != nil {
		return err
	}
	faults, _, err := into.Check()
	if err == nil && len(faults) > 0 {
		err = fmt.Errorf("the export is not whole: %s", faults[0])
	}
	if err != nil {
		return err
	}
	named, err := into.NamedFiles()
	for hash := range named {
		if _, there := types[hash]; !there {
			return errors.Join(err, fmt.Errorf("the export is not whole: file %s is missing", hash))
		}
	}
	return err
}

func importFile(z *zip.ReadCloser, into store.Files, hash, kind string) error {
	r, err := z.Open(filesEntry + hash)
	if err != nil {
		return err
	}
	defer r.Close()
	got, err := into.Put(r, kind)
	if err == nil && got != hash {
		err = fmt.Errorf("file %s is damaged: its content is not what it is named by", hash)
	}
	return err
}

func readJSON(z *zip.ReadCloser, name string, into any) error {
	r, err := z.Open(name)
	if err != nil {
		return err
	}
	defer r.Close()
	return json.NewDecoder(r).Decode(into)
}
