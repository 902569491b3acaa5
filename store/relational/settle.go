package relational

import (
	"encoding/json"

	"mivlet/store"
)

// Two answers about every page are worked out by the desk and kept with it: whether
// visitors see something else than its draft would give, and how many findings its
// sign-off has. Whatever may change them marks the pages that it concerns; the desk
// works the answers of those out anew, and of no others.

// unsettle marks pages whose two answers may have changed.
func (s *Records) unsettle(where string, args ...any) error {
	return s.write.Exec("UPDATE pages SET compared = '', judged = '' WHERE (compared <> '' OR judged <> '') AND "+where, args...).Error
}

// unjudge marks pages whose findings may have changed, and nothing else of them.
func (s *Records) unjudge(where string, args ...any) error {
	return s.write.Exec("UPDATE pages SET judged = '' WHERE judged <> '' AND "+where, args...).Error
}

func (s *Records) Unsettled(compared, judged string) ([]store.Page, error) {
	var all []store.Page
	q := s.read.Where("1 = 0")
	if compared != "" {
		q = q.Or("compared <> ? AND live_version > 0", compared)
	}
	if judged != "" {
		q = q.Or("judged <> ?", judged)
	}
	return all, s.present().Where(q).Order("id").Find(&all).Error
}

func (s *Records) Settle(pages []store.Page) error {
	type answer struct {
		ID       uint   `json:"id"`
		Differs  bool   `json:"differs"`
		Compared string `json:"compared"`
		Stops    int    `json:"stops"`
		Warns    int    `json:"warns"`
		Judged   string `json:"judged"`
	}
	all := make([]answer, len(pages))
	for i, p := range pages {
		all[i] = answer{p.ID, p.Differs, p.Compared, p.Stops, p.Warns, p.Judged}
	}
	list, err := json.Marshal(all)
	if err != nil {
		return err
	}
	return s.write.Exec(`UPDATE pages SET differs = a.differs, compared = a.compared, stops = a.stops, warns = a.warns, judged = a.judged FROM (
		SELECT CAST(json_extract(value, '$.id') AS BIGINT) AS id, CAST(json_extract(value, '$.differs') AS BOOLEAN) AS differs, json_extract(value, '$.compared') AS compared,
			CAST(json_extract(value, '$.stops') AS BIGINT) AS stops, CAST(json_extract(value, '$.warns') AS BIGINT) AS warns, json_extract(value, '$.judged') AS judged
		FROM json_each(?)) AS a WHERE pages.id = a.id`, string(list)).Error
}

func (s *Records) Counts(sections []string) (store.Counts, error) {
	var c store.Counts
	own := ""
	if sections != nil {
		own = " AND section IN @sections"
	}
	at := func(station string) string {
		return "(SELECT COUNT(*) FROM pictures WHERE station = '" + station + "'" + own + ")"
	}
	var named []any
	if sections != nil {
		named = append(named, map[string]any{"sections": sections})
	}
	err := s.read.Raw("SELECT "+at("arrivals")+" AS arrivals, "+at("bench")+" AS bench, (SELECT COUNT(*) FROM pictures WHERE shelved = TRUE) AS shelves, "+
		"(SELECT COUNT(*) FROM pages WHERE live_version > 0) AS live, (SELECT COUNT(*) FROM pages WHERE live_version > 0 AND differs = TRUE) AS changed, "+
		"(SELECT COUNT(*) FROM found WHERE left_at IS NULL) AS findings",
		named...).Scan(&c).Error
	return c, err
}

func (s *Records) PageTitles(picture uint) ([]store.PageTitle, error) {
	var all []store.PageTitle
	return all, s.read.Raw(`SELECT id, section, slug, json_extract(doc, '$.title') AS title, live_version > 0 AS live, differs,
		EXISTS (SELECT 1 FROM placed WHERE placed.page_id = pages.id AND placed.picture_id = ?) AS shows FROM pages WHERE dropped_at IS NULL ORDER BY section = '' OR slug = '', section, slug`, picture).Scan(&all).Error
}

func (s *Records) ChangedPages() ([]store.Page, error) {
	var all []store.Page
	return all, s.read.Where("live_version > 0 AND differs = TRUE").Order("section, slug").Find(&all).Error
}
