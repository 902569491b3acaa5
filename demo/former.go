package demo

import (
	"archive/zip"
	"bytes"
	"context"
	"time"

	"mivlet/core/survey"
	"mivlet/demo/tenyears"
	"mivlet/store"
)

// How much there is of the site that the club had before.
const formerPages, formerPictures = 12, 34

// fillFormer brings in the site that the club had before.
func fillFormer(s *store.Store, now time.Time) error {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	_, err := tenyears.Make(formerPages, formerPictures, func(at string, data []byte) error {
		f, err := z.CreateHeader(&zip.FileHeader{Name: at, Method: zip.Store})
		if err == nil {
			_, err = f.Write(data)
		}
		return err
	})
	if err != nil {
		return err
	}
	if err := z.Close(); err != nil {
		return err
	}
	files, err := zip.NewReader(bytes.NewReader(out.Bytes()), int64(out.Len()))
	if err != nil {
		return err
	}
	found, err := survey.Read(context.Background(), files, survey.Options{})
	if err != nil {
		return err
	}
	hash, err := s.Files.Put(bytes.NewReader(out.Bytes()), "application/zip")
	if err != nil {
		return err
	}
	return s.Tx(func(r store.Records) error {
		return r.AddFormerSite(&store.FormerSite{Title: "Brindlemere, the old site", Hash: hash, Bytes: int64(out.Len()), Sum: found.Report().Sum, Person: "Ines Varrow", AddedAt: now.Add(-26 * time.Hour)})
	})
}
