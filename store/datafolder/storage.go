package datafolder

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"strings"

	"github.com/BurntSushi/toml"

	"mivlet/store/bucket"
	"mivlet/store/folder"
	"mivlet/store/postgres"
)

// StorageName is the note in a data folder that says where records and files are kept. Without it, both lie
// in the folder.
const StorageName = "storage.toml"

// Storage says where the records and the files of a house are kept. What is empty lies in the data folder.
type Storage struct {
	Records RecordsStorage `toml:"records"`
	Files   FilesStorage   `toml:"files"`
}

// RecordsStorage is a database that keeps records.
type RecordsStorage struct {
	Postgres string `toml:"postgres,omitempty"` // address, see [postgres.Address]
	House    string `toml:"house,omitempty"`    // the schema of the house there
}

// FilesStorage is a bucket that keeps files.
type FilesStorage struct {
	S3         string `toml:"s3,omitempty"` // address with bucket and prefix, such as https://s3.example/mivlet/paddle
	Region     string `toml:"region,omitempty"`
	Login      string `toml:"login,omitempty"`       // name of the access key
	SecretFile string `toml:"secret_file,omitempty"` // file of the secret key
}

func (r RecordsStorage) address() postgres.Address {
	return postgres.Address{URL: r.Postgres, House: r.House}
}

// Elsewhere reports whether anything lies outside of the data folder.
func (s Storage) Elsewhere() bool { return s.Records.Postgres != "" || s.Files.S3 != "" }

// Check fails where a house cannot be kept so.
func (s Storage) Check() error {
	if s.Records.Postgres != "" {
		if err := s.Records.address().Check(); err != nil {
			return err
		}
	} else if s.Records.House != "" {
		return fmt.Errorf("invalid house %q: only a database has houses by name", s.Records.House)
	}
	if s.Files.S3 == "" {
		return nil
	}
	_, err := s.Files.storage()
	return err
}

// storage is the bucket that is meant.
func (f FilesStorage) storage() (s bucket.Storage, err error) {
	u, err := url.Parse(f.S3)
	if err != nil {
		return s, fmt.Errorf("invalid address of files: %w", err)
	}
	s.Address, s.Key, s.Region = u.Scheme+"://"+u.Host, f.Login, f.Region
	s.Bucket, s.Prefix, _ = strings.Cut(strings.Trim(u.Path, "/"), "/")
	if u.Host == "" || s.Bucket == "" || s.Prefix == "" || u.RawQuery != "" || u.User != nil {
		return s, fmt.Errorf("invalid address of files %q: write it as https://s3.example/bucket/house", f.S3)
	}
	if f.Login == "" || f.SecretFile == "" {
		return s, errors.New("files in a bucket need the name of the access key and the file of the secret key")
	}
	secret, err := os.ReadFile(f.SecretFile)
	s.SecretKey = strings.TrimSpace(string(secret))
	return s, err
}

// openFiles opens the files of a house, to write among them, and has it know whether that can be done.
func (s Storage) openFiles(ctx context.Context, dir string, into *Folder) (droppable, error) {
	if s.Files.S3 == "" {
		return folder.Open(filepath.Join(dir, filesName))
	}
	at, err := s.Files.storage()
	if err != nil {
		return nil, err
	}
	files, err := bucket.Open(ctx, at, filepath.Join(dir, scratchName))
	if err != nil {
		return nil, err
	}
	here := into.ready
	into.ready = func(ctx context.Context) error { return errors.Join(here(ctx), files.Ready(ctx)) }
	return files, nil
}

// ReadStorage reads where the records and files of a data folder are kept.
func ReadStorage(dir string) (Storage, error) {
	s, err := ReadSharedStorage(dir)
	if err == nil {
		err = s.Check()
	}
	if err != nil {
		return s, fmt.Errorf("%s: %w", filepath.Join(dir, StorageName), err)
	}
	return s, nil
}

// ReadSharedStorage reads where the houses in a folder are kept, each by a name and in a place of its own there.
func ReadSharedStorage(dir string) (Storage, error) {
	var s Storage
	read, err := toml.DecodeFile(filepath.Join(dir, StorageName), &s)
	if errors.Is(err, fs.ErrNotExist) {
		return Storage{}, nil
	}
	if err == nil && len(read.Undecoded()) > 0 {
		err = fmt.Errorf("unknown setting %q", read.Undecoded()[0])
	}
	return s, err
}

// Write notes in a data folder where its records and files are kept, whole or not at all, readable by its owner
// only: an address may hold a password.
func (s Storage) Write(dir string) error {
	if !s.Elsewhere() {
		return folder.Remove(dir, StorageName)
	}
	text, err := toml.Marshal(s)
	if err != nil {
		return err
	}
	const says = "# Where the records and the files of this house are kept. 'mivlet move' writes this.\n"
	return folder.Replace(dir, StorageName, append([]byte(says), text...))
}
