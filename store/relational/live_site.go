package relational

import "mivlet/store"

// fronts asks for the sections and the documents of the front pages that are live.
const fronts = `SELECT pages.section, v.doc FROM pages
	JOIN live_versions v ON v.id = (SELECT MAX(id) FROM live_versions WHERE page_id = pages.id)
	WHERE pages.live_version > 0 AND pages.slug = ''`

func (s *Records) LiveFronts() (map[string]string, error) {
	var rows []struct{ Section, Doc string }
	err := s.read.Raw(fronts).Scan(&rows).Error
	all := make(map[string]string, len(rows))
	for _, r := range rows {
		all[r.Section] = r.Doc
	}
	return all, err
}

// LiveSite asks once for all of it: every screen of a page does.
func (s *Records) LiveSite() (store.LiveSite, error) {
	var rows []struct {
		What, A, B, C string
		N             int
	}
	err := s.read.Raw(`SELECT DISTINCT 'path' AS what, path AS a, '' AS b, '' AS c, 0 AS n FROM published
		UNION ALL SELECT 'moved', redirects.path, pages.section, pages.slug, 0 FROM redirects JOIN pages ON pages.id = redirects.page_id WHERE pages.live_version > 0
		UNION ALL SELECT 'known', key, '', '', COUNT(*) FROM ` + liveTerms + ` WHERE key NOT LIKE 'hand:%' GROUP BY key
		UNION ALL SELECT DISTINCT 'listed', key, '', '', 0 FROM ` + liveLists + `
		UNION ALL SELECT 'front', section, doc, '', 0 FROM (` + fronts + `) AS front`).Scan(&rows).Error
	site := store.LiveSite{Paths: map[string]bool{}, Moved: map[string]string{}, Known: map[string]int{}, Lists: map[string]bool{}, Fronts: map[string]string{}}
	for _, r := range rows {
		switch r.What {
		case "path":
			site.Paths[r.A] = true
		case "moved":
			site.Moved[r.A] = store.Page{Section: r.B, Slug: r.C}.Path()
		case "known":
			site.Known[r.A] = r.N
		case "listed":
			site.Lists[r.A] = true
		case "front":
			site.Fronts[r.A] = r.B
		}
	}
	return site, err
}
