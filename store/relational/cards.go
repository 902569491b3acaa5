package relational

import (
	"encoding/json"
	"slices"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"mivlet/core/page"
	"mivlet/store"
)

// The tables of keys: what live pages are known by, what the lists on them go by, and what
// drafts are about.
const (
	liveTerms = "live_terms"
	liveLists = "live_lists"
	pageTerms = "page_terms"
)

func (s *Records) SetCard(c store.LiveCard, knownBy, lists []string) error {
	if c.Files == nil {
		c.Files = []page.CardFile{}
	}
	if err := s.write.Clauses(clause.OnConflict{UpdateAll: true}).Create(&c).Error; err != nil {
		return err
	}
	var was []string
	if err := s.read.Raw("SELECT key FROM "+liveTerms+" WHERE page_id = @id UNION ALL SELECT key FROM "+liveLists+" WHERE page_id = @id", map[string]any{"id": c.PageID}).Scan(&was).Error; err != nil {
		return err
	}
	now := slices.Concat(knownBy, lists)
	slices.Sort(was)
	slices.Sort(now)
	if !slices.Equal(slices.Compact(was), slices.Compact(now)) {
		if err := s.unjudge("1 = 1"); err != nil { // what is said of lists and covers of others may change
			return err
		}
	}
	if err := s.setKeys(liveTerms, c.PageID, knownBy); err != nil {
		return err
	}
	return s.setKeys(liveLists, c.PageID, lists)
}

// setKeys replaces the keys of a page in one of the tables of keys.
func (s *Records) setKeys(table string, page uint, keys []string) error {
	if err := s.write.Exec("DELETE FROM "+table+" WHERE page_id = ?", page).Error; err != nil {
		return err
	}
	if len(keys) == 0 {
		return nil
	}
	list, err := json.Marshal(keys)
	if err != nil {
		return err
	}
	return s.write.Exec("INSERT INTO "+table+" (page_id, key) SELECT CAST(? AS BIGINT), value FROM json_each(?) WHERE TRUE ON CONFLICT DO NOTHING", page, string(list)).Error
}

// dropCard forgets what lists show of a page, and its own lists.
func (s *Records) dropCard(page uint) error {
	for _, table := range []string{"live_cards", liveTerms, liveLists} {
		if err := s.write.Exec("DELETE FROM "+table+" WHERE page_id = ?", page).Error; err != nil {
			return err
		}
	}
	return nil
}

// cards are all cards with the addresses of their pages.
func (s *Records) cards() *gorm.DB {
	return s.read.Model(&store.LiveCard{}).Joins("JOIN pages ON pages.id = live_cards.page_id").Select(s.fields(store.LiveCard{}, "live_cards") + ", pages.section AS section, pages.slug AS slug")
}

func (s *Records) Card(page uint) (store.LiveCard, []string, error) {
	var c store.LiveCard
	if err := found(s.cards().Where("page_id = ?", page).First(&c).Error); err != nil {
		return c, nil, err
	}
	var keys []string
	return c, keys, s.read.Raw("SELECT key FROM "+liveTerms+" WHERE page_id = ? ORDER BY key", page).Scan(&keys).Error
}

// orders are the orders of lists: by the day that a page is about, else by when it first
// went live.
var orders = map[page.Order]string{
	page.Newest:  "live_cards.day DESC, live_cards.page_id DESC",
	page.Oldest:  "live_cards.day, live_cards.page_id",
	page.ByTitle: "lower(live_cards.title), live_cards.page_id",
}

func (s *Records) Cards(q store.CardQuery) ([]store.LiveCard, int, error) {
	db := s.cards().Where("live_cards.page_id <> ?", q.But)
	if q.Key != "" {
		db = db.Where("live_cards.page_id IN (SELECT page_id FROM "+liveTerms+" WHERE key = ?)", q.Key)
	} else {
		db = db.Where("live_cards.page_id IN ?", append([]uint{0}, q.Pages...))
	}
	var n int64
	if err := db.Session(&gorm.Session{}).Count(&n).Error; err != nil {
		return nil, 0, err
	}
	given := q.Key == "" && q.Order == page.AsGiven
	by, ok := orders[q.Order]
	if !ok {
		by = orders[page.Newest]
	}
	if !given && q.Most > 0 {
		db = db.Limit(q.Most)
	}
	var all []store.LiveCard
	if err := db.Order(by).Find(&all).Error; err != nil {
		return nil, 0, err
	}
	if given {
		slices.SortFunc(all, func(a, b store.LiveCard) int {
			return slices.Index(q.Pages, a.PageID) - slices.Index(q.Pages, b.PageID)
		})
		if q.Most > 0 && len(all) > q.Most {
			all = all[:q.Most]
		}
	}
	return all, int(n), nil
}

func (s *Records) Listing(keys []string) ([]uint, error) {
	list, err := json.Marshal(keys)
	if err != nil {
		return nil, err
	}
	var ids []uint
	return ids, s.read.Raw("SELECT DISTINCT page_id FROM "+liveLists+" WHERE key IN (SELECT value FROM json_each(?)) ORDER BY page_id", string(list)).Scan(&ids).Error
}

func (s *Records) WithCover(picture uint) ([]uint, error) {
	var ids []uint
	return ids, s.read.Model(&store.LiveCard{}).Where("cover = ?", picture).Order("page_id").Pluck("page_id", &ids).Error
}

func (s *Records) Uncover(picture uint) error {
	return s.write.Exec("UPDATE live_cards SET cover = 0, files = '[]' WHERE cover = ?", picture).Error
}

func (s *Records) Relist(page uint, was, files []store.Published, at time.Time) error {
	gone, fresh := missing(was, files), missing(files, was)
	if len(gone) > 0 {
		addresses := make([]string, len(gone))
		for i, f := range gone {
			addresses[i] = addressOf(f)
		}
		list, err := json.Marshal(addresses)
		if err != nil {
			return err
		}
		if err := s.write.Exec("DELETE FROM published WHERE page_id = ? AND path || '#' || hash IN (SELECT value FROM json_each(?))", page, string(list)).Error; err != nil {
			return err
		}
	}
	for i := range fresh {
		fresh[i].PageID, fresh[i].PublishedAt = page, at
	}
	if err := s.addFiles(fresh); err != nil {
		return err
	}
	if err := s.noteGone(gone, at); err != nil {
		return err
	}
	newest, err := s.NewestLive(page)
	if err != nil {
		return err
	}
	newest.Files = files
	return s.write.Model(&store.LiveVersion{ID: newest.ID}).Select("Files").Updates(&newest).Error
}

func addressOf(f store.Published) string { return f.Path + "#" + f.Hash }

// missing are the files of a that are not among b.
func missing(a, b []store.Published) []store.Published {
	there := make(map[string]bool, len(b))
	for _, f := range b {
		there[addressOf(f)] = true
	}
	return slices.DeleteFunc(slices.Clone(a), func(f store.Published) bool { return there[addressOf(f)] })
}

func (s *Records) Themes() (map[string]int, error) {
	var rows []struct {
		Key string
		N   int
	}
	err := s.read.Raw("SELECT key, COUNT(*) AS n FROM " + pageTerms + " GROUP BY key").Scan(&rows).Error
	all := make(map[string]int, len(rows))
	for _, r := range rows {
		all[r.Key] = r.N
	}
	return all, err
}
