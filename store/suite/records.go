package suite

import (
	"errors"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

var noon = time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)

// Records runs what every way of keeping records must do; open gives empty ones.
func Records(t *testing.T, open func(t *testing.T) store.Records) {
	for name, test := range map[string]func(*house){
		"a transaction is kept whole or not at all": transactions,
		"a view sees one moment":                    views,
		"writers wait for each other":               writers,
		"pictures":                                  pictures,
		"pictures of many numbers at once":          manyPictures,
		"the history of a picture":                  pictureSteps,
		"cuts and copies":                           cutsAndCopies,
		"shelves: every question":                   shelfFilters,
		"shelves: words":                            shelfWords,
		"shelves: folders, tags, orders":            shelfFolders,
		"the bin":                                   bin,
		"drafts of pages":                           drafts,
		"pages that were deleted":                   droppedPages,
		"what is there to try on":                   samples,
		"what was worked out of pages":              answers,
		"albums":                                    albums,
		"destinations and what was sent to them":    destinations,
		"the state of the site":                     siteState,
		"banners":                                   banners,
		"what visitors get":                         published,
		"addresses that move":                       moves,
		"what visitors once got":                    lives,
		"what lists show of live pages":             cards,
		"pages whose lighter files are due":         lighterDue,
		"what drafts are about":                     themes,
		"people":                                    people,
		"whose accounts people sign in with":        providers,
		"where people are signed in":                signedIn,
		"jobs":                                      keptJobs,
		"former sites":                              formerSites,
		"rounds":                                    rounds,
		"erasures":                                  erasures,
		"unused pictures":                           unused,
		"passkeys":                                  passkeys,
		"house rules":                               houseRules,
		"the ruler":                                 ruler,
		"files to download":                         attachments,
		"the trail":                                 trail,
		"sessions":                                  sessions,
		"files that records name":                   namedFiles,
		"erasing":                                   erasing,
	} {
		t.Run(name, func(t *testing.T) { test(&house{t, open(t)}) })
	}
}

// house is records with a few ways to put things into them.
type house struct {
	*testing.T
	store.Records
}

// ok fails the test where something went wrong.
func (h *house) ok(err error) {
	h.Helper()
	require.NoError(h, err)
}

// of returns an answer that must come without an error.
func of[V any](v V, err error) func(h *house) V {
	return func(h *house) V {
		h.Helper()
		require.NoError(h, err)
		return v
	}
}

// picture adds one on the bench of a section.
func (h *house) picture(section, name string, change ...func(*store.Picture)) store.Picture {
	h.Helper()
	p := store.Picture{Section: section, OriginalHash: "original of " + name, OriginalName: name + ".JPG", Station: store.Bench,
		Work: store.Work{Name: name}, CreatedAt: noon, UpdatedAt: noon}
	for _, c := range change {
		c(&p)
	}
	h.ok(h.AddPicture(&p))
	return p
}

// placing is a block with a picture.
func placing(id uint) page.Block {
	return page.Block{ID: fmt.Sprint("b", id), Kind: page.Picture, Placement: &page.Placement{Picture: id, Slot: "column", Side: page.None}}
}

// page adds one on which some pictures stand.
func (h *house) page(section, slug string, pictures ...uint) store.Page {
	h.Helper()
	doc := page.Doc{Version: page.Version, Title: "About " + slug, Blocks: []page.Block{}}
	for _, id := range pictures {
		doc.Blocks = append(doc.Blocks, placing(id))
	}
	p := store.Page{Section: section, Slug: slug, Version: 1, UpdatedAt: noon, Doc: doc}
	h.ok(h.AddPage(&p))
	return p
}

// publish makes files all that visitors get of a page.
func (h *house) publish(p *store.Page, files ...store.Published) {
	h.Helper()
	h.ok(h.Tx(func(s store.Records) error { return s.Publish(p, files, "print", noon) }))
}

// file is something that visitors get, with a hash that begins with four letters.
func file(path, begin string, picture uint) store.Published {
	return store.Published{Path: path, Hash: begin + strings.Repeat("0", 64-len(begin)), MediaType: "image/jpeg", PictureID: picture}
}

func numbers(all []store.Picture) []uint {
	some := make([]uint, len(all))
	for i, p := range all {
		some[i] = p.ID
	}
	return some
}

func titles(all []store.Page) []string {
	some := make([]string, len(all))
	for i, p := range all {
		some[i] = p.Slug
	}
	return some
}

var errStop = errors.New("power cut")

func transactions(h *house) {
	h.ok(h.Tx(func(s store.Records) error {
		p := store.Picture{Section: "juniors", Station: store.Arrivals}
		if err := s.AddPicture(&p); err != nil {
			return err
		}
		_, err := s.Picture(p.ID)
		return err // what was written is seen before it is kept
	}))
	assert.ErrorIs(h, h.Tx(func(s store.Records) error {
		for _, err := range []error{s.AddPicture(&store.Picture{Section: "juniors"}), s.AddPage(&store.Page{Slug: "a"}),
			s.AddTrace(store.Trace{What: "never"}), s.SaveRules(rules.Default(), "", "", noon)} {
			if err != nil {
				return err
			}
		}
		return errStop
	}), errStop)
	c := of(h.Counts(nil))(h)
	assert.EqualValues(h, 1, c.Arrivals)
	assert.Empty(h, of(h.Pages())(h))
	assert.Empty(h, of(h.Trail(store.TrailFilter{}))(h))
	assert.Empty(h, of(h.CheckTrail())(h), "the chain is as it was")
	assert.Zero(h, of(h.RulesNumber())(h))
	assert.Panics(h, func() {
		_ = h.Tx(func(s store.Records) error {
			_ = s.AddPage(&store.Page{Slug: "b"})
			panic("out of memory")
		})
	})
	assert.Empty(h, of(h.Pages())(h), "what panics keeps nothing, and keeps nobody waiting")
	assert.False(h, of(h.Empty())(h))
}

func views(h *house) {
	assert.True(h, of(h.Empty())(h))
	p := h.page("juniors", "autumn")
	h.ok(h.View(func(s store.Records) error {
		before, err := s.Page(p.ID)
		if err != nil {
			return err
		}
		changed := before
		changed.Doc.Title = "Changed meanwhile"
		if err := h.Tx(func(s store.Records) error { return s.AddPageStep(&changed, "Renamed", "Odo", noon) }); err != nil {
			return err
		}
		again, err := s.Page(p.ID)
		assert.Equal(h, before.Doc.Title, again.Doc.Title, "it sees the moment that it began at")
		return err
	}))
	assert.Equal(h, "Changed meanwhile", of(h.Page(p.ID))(h).Doc.Title)
}

func writers(h *house) {
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() {
			for range 10 {
				assert.NoError(h, h.Tx(func(s store.Records) error {
					c, err := s.Counts(nil)
					if err != nil {
						return err
					}
					p := store.Picture{Section: "touring", Station: store.Arrivals, Folder: fmt.Sprint(c.Arrivals)}
					return s.AddPicture(&p) // nobody else has written since the counting
				}))
				assert.NoError(h, h.AddTrace(store.Trace{At: noon, What: "side by side"}))
			}
		})
	}
	all.Wait()
	seen := map[string]bool{}
	for _, p := range of(h.PicturesAt(store.Arrivals))(h) {
		seen[p.Folder] = true
	}
	assert.Len(h, seen, 80)
	assert.Empty(h, of(h.CheckTrail())(h))
}
