package suite_test

import (
	"bytes"
	"fmt"
	"io"
	"maps"
	"slices"
	"sync"
	"testing"
	"time"

	"mivlet/store"
	"mivlet/store/suite"
)

// memory keeps files in memory: what the suite asks for holds without any folder.
type memory struct {
	dir  string
	mu   sync.Mutex
	kept map[string]*content
}

type content struct {
	store.FileInfo
	data []byte
}

type opened struct {
	*bytes.Reader
	info store.FileInfo
}

func (o opened) Close() error      { return nil }
func (o opened) MediaType() string { return o.info.MediaType() }

func TestMemoryKeepsFiles(t *testing.T) {
	t.Parallel()
	suite.Files(t, func(t *testing.T) store.Files {
		return &memory{dir: t.TempDir(), kept: map[string]*content{}}
	})
}

func (m *memory) Receive(r io.Reader) (*store.Incoming, error) {
	return store.ReceiveIn(m.dir, r, m.keep)
}

func (m *memory) Put(r io.Reader, mediaType string) (string, error) {
	return store.PutReceived(m, r, mediaType)
}

func (m *memory) keep(in *store.Incoming, mediaType string) error {
	defer in.Discard()
	data, err := io.ReadAll(io.NewSectionReader(in, 0, in.Bytes))
	if err != nil {
		return err
	}
	m.mu.Lock()
	defer m.mu.Unlock()
	if m.kept[in.Hash] == nil {
		m.kept[in.Hash] = &content{store.FileInfo{Hash: in.Hash, Size: in.Bytes, MediaType: func() string { return mediaType }}, data}
	}
	m.kept[in.Hash].KeptAt = time.Now()
	return nil
}

func (m *memory) find(hash string) (content, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if c := m.kept[hash]; c != nil {
		return *c, nil
	}
	return content{}, fmt.Errorf("%w: %q", store.ErrNoFile, hash)
}

func (m *memory) Open(hash string) (store.File, error) {
	c, err := m.find(hash)
	return opened{bytes.NewReader(c.data), c.FileInfo}, err
}

func (m *memory) OpenRange(hash string, offset, length int64) (io.ReadCloser, error) {
	c, err := m.find(hash)
	if err != nil {
		return nil, err
	}
	if length, err = store.CheckRange(c.Size, offset, length); err != nil {
		return nil, err
	}
	return io.NopCloser(bytes.NewReader(c.data[offset : offset+length])), nil
}

func (m *memory) Stat(hash string) (store.FileInfo, error) {
	c, err := m.find(hash)
	return c.FileInfo, err
}

func (m *memory) Has(hash string) bool {
	_, err := m.find(hash)
	return err == nil
}

func (m *memory) List(do func(store.FileInfo) error) error {
	m.mu.Lock()
	all := slices.Collect(maps.Values(m.kept))
	m.mu.Unlock()
	for _, c := range all {
		if err := do(c.FileInfo); err != nil {
			return err
		}
	}
	return nil
}

func (m *memory) Delete(hash string) error {
	m.mu.Lock()
	defer m.mu.Unlock()
	delete(m.kept, hash)
	return nil
}

func (m *memory) DeleteKeptBefore(hash string, before time.Time) (int64, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	c := m.kept[hash]
	if c == nil || !c.KeptAt.Before(before) {
		return 0, nil
	}
	delete(m.kept, hash)
	return c.Size, nil
}
