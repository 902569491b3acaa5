package sqlite

import (
	"strings"

	"gorm.io/gorm"

	"mivlet/store/relational"
)

// What the migration 0010-what-stands-for-pages does beyond its statements.

// themesOf keeps the table of what drafts are about true, whatever writes a draft.
func themesOf(event string) string {
	return `CREATE TRIGGER page_terms_` + strings.ToLower(strings.Fields(event)[0]) + ` AFTER ` + event + ` ON pages BEGIN
		DELETE FROM page_terms WHERE page_id = new.id;
		INSERT OR IGNORE INTO page_terms (page_id, key) SELECT new.id, 'tag:' || value FROM json_each(new.doc, '$.details.tags');
		INSERT OR IGNORE INTO page_terms (page_id, key) SELECT new.id, 'category:' || value FROM json_each(new.doc, '$.details.categories');
	END`
}

// cardsOfLives gives the pages that are live already their cards, without covers: those
// come with the next publishing.
func cardsOfLives(tx *gorm.DB) error {
	return relational.Statements(
		`INSERT INTO live_cards (page_id, title, from_day, until, summary, first_at, cover, files)
			SELECT id, json_extract(doc, '$.title'), '', '', '', COALESCE((SELECT MIN(at) FROM live_versions WHERE page_id = pages.id), live_at, updated_at), 0, '[]'
			FROM pages WHERE live_version > 0`,
		`INSERT INTO live_terms (page_id, key) SELECT id, 'section:' || section FROM pages WHERE live_version > 0`,
		`INSERT INTO live_terms (page_id, key) SELECT id, 'hand:' || id FROM pages WHERE live_version > 0`,
	)(tx)
}
