package store

import (
	"fmt"
	"os"
	"path/filepath"
)

// openForReading opens a data folder without changing anything in it; another program
// may have it open, too. Its records must be of the current version.
func openForReading(dir string) (*Store, error) {
	file := filepath.Join(dir, DatabaseName)
	if _, err := os.Stat(file); err != nil {
		return nil, fmt.Errorf("%s is no data folder of Mivlet: %w", dir, err)
	}
	s := &Store{watched: &watched{}, Blobs: &Blobs{dir: filepath.Join(dir, filesName)}}
	var err error
	if s.read, err = connect(file+readOnly, 1, &watch{s.watched, false}); err != nil {
		return nil, fmt.Errorf("the records in %s cannot be opened: %w", dir, err)
	}
	newest := migrations[len(migrations)-1].ID
	var n int64
	if err := s.read.Raw("SELECT COUNT(*) FROM migrations WHERE id = ?", newest).Scan(&n).Error; err != nil || n == 0 {
		_ = s.Close()
		return nil, fmt.Errorf("the records in %s are of another version of Mivlet: start this version on them once", dir)
	}
	return s, nil
}
