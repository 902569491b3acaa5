package sqlite

import (
	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"

	"mivlet/store/relational"
)

// migrations bring the records from version to version, in order. A migration
// that has been released is never changed: a new one follows it.
var migrations = []*gormigrate.Migration{
	{ID: "0001-pictures-and-pages", Migrate: relational.Statements(
		`CREATE TABLE house_rules (
			id INTEGER PRIMARY KEY, doc TEXT NOT NULL, created_at DATETIME NOT NULL)`,
		`CREATE TABLE pictures (
			id INTEGER PRIMARY KEY,
			section TEXT NOT NULL, original_hash TEXT NOT NULL, original_name TEXT NOT NULL, facts TEXT NOT NULL,
			station TEXT NOT NULL, step INTEGER NOT NULL, work TEXT NOT NULL, name TEXT NOT NULL,
			preview_hash TEXT NOT NULL DEFAULT '', thumb_hash TEXT NOT NULL DEFAULT '',
			created_at DATETIME NOT NULL, updated_at DATETIME NOT NULL)`,
		`CREATE INDEX pictures_station ON pictures(station, id)`,
		`CREATE INDEX pictures_original ON pictures(original_hash)`,
		`CREATE UNIQUE INDEX pictures_name ON pictures(section, name) WHERE name <> ''`,
		`CREATE TABLE steps (
			id INTEGER PRIMARY KEY, picture_id INTEGER NOT NULL REFERENCES pictures(id) ON DELETE CASCADE,
			seq INTEGER NOT NULL, text TEXT NOT NULL, work TEXT NOT NULL, created_at DATETIME NOT NULL,
			UNIQUE (picture_id, seq))`,
		`CREATE TABLE cuts (
			id INTEGER PRIMARY KEY, picture_id INTEGER NOT NULL REFERENCES pictures(id) ON DELETE CASCADE,
			key TEXT NOT NULL, density REAL NOT NULL, effective REAL NOT NULL, css_width INTEGER NOT NULL,
			width INTEGER NOT NULL, height INTEGER NOT NULL, hash TEXT NOT NULL, media_type TEXT NOT NULL,
			bytes INTEGER NOT NULL, quality INTEGER NOT NULL, why TEXT NOT NULL,
			UNIQUE (picture_id, key, density))`,
		`CREATE TABLE pages (
			id INTEGER PRIMARY KEY, section TEXT NOT NULL, slug TEXT NOT NULL, doc TEXT NOT NULL,
			version INTEGER NOT NULL, step INTEGER NOT NULL, live_version INTEGER NOT NULL DEFAULT 0, live_at DATETIME,
			report TEXT NOT NULL DEFAULT '', updated_at DATETIME NOT NULL,
			UNIQUE (section, slug))`,
		`CREATE TABLE page_steps (
			id INTEGER PRIMARY KEY, page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE,
			seq INTEGER NOT NULL, text TEXT NOT NULL, doc TEXT NOT NULL, created_at DATETIME NOT NULL,
			UNIQUE (page_id, seq))`,
		`CREATE TABLE published (
			path TEXT NOT NULL, page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE,
			hash TEXT NOT NULL, media_type TEXT NOT NULL, published_at DATETIME NOT NULL,
			PRIMARY KEY (path, page_id))`,
		`CREATE INDEX published_page ON published(page_id)`,
	)},
	{ID: "0002-people-and-rules", Migrate: relational.Statements(
		`CREATE TABLE people (
			id INTEGER PRIMARY KEY, name TEXT NOT NULL, login TEXT NOT NULL COLLATE NOCASE UNIQUE, password TEXT NOT NULL DEFAULT '',
			keeper INTEGER NOT NULL DEFAULT 0, away INTEGER NOT NULL DEFAULT 0, epoch INTEGER NOT NULL DEFAULT 0, created_at DATETIME NOT NULL)`,
		`CREATE TABLE roles (
			person_id INTEGER NOT NULL REFERENCES people(id) ON DELETE CASCADE, section TEXT NOT NULL, role TEXT NOT NULL,
			PRIMARY KEY (person_id, section))`,
		`CREATE TABLE sessions (token TEXT PRIMARY KEY, data BLOB NOT NULL, expiry REAL NOT NULL)`,
		`CREATE INDEX sessions_expiry ON sessions(expiry)`,
		`CREATE TABLE trail (
			id INTEGER PRIMARY KEY, at DATETIME NOT NULL, person_id INTEGER NOT NULL, person TEXT NOT NULL,
			section TEXT NOT NULL DEFAULT '', what TEXT NOT NULL)`,
		`ALTER TABLE house_rules ADD COLUMN person TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE house_rules ADD COLUMN why TEXT NOT NULL DEFAULT ''`,
		`CREATE TABLE rules_drafts (
			person_id INTEGER PRIMARY KEY, base INTEGER NOT NULL, doc TEXT NOT NULL, updated_at DATETIME NOT NULL)`,
		`CREATE TABLE ruler_sheets (
			id INTEGER PRIMARY KEY, person TEXT NOT NULL, title TEXT NOT NULL, hash TEXT NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL,
			scale REAL NOT NULL, created_at DATETIME NOT NULL)`,
		`CREATE TABLE readings (
			id INTEGER PRIMARY KEY, sheet_id INTEGER NOT NULL REFERENCES ruler_sheets(id) ON DELETE CASCADE,
			upright INTEGER NOT NULL, "from" INTEGER NOT NULL, "to" INTEGER NOT NULL, title TEXT NOT NULL, person TEXT NOT NULL, created_at DATETIME NOT NULL)`,
		`ALTER TABLE steps ADD COLUMN person TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE page_steps ADD COLUMN person TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pages ADD COLUMN live_print TEXT NOT NULL DEFAULT ''`,
	)},
	{ID: "0003-shelves", Migrate: relational.Statements(
		`ALTER TABLE pictures ADD COLUMN folder TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pictures ADD COLUMN person TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pictures ADD COLUMN variant_of INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN converted TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pictures ADD COLUMN arrived_hash TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pictures ADD COLUMN was TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pictures ADD COLUMN binned_at DATETIME`,
		`ALTER TABLE pictures ADD COLUMN described INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN soft INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN heavy INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN position INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN consent TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pictures ADD COLUMN consent_until TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pictures ADD COLUMN bytes INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN look_key TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pictures ADD COLUMN look_hash TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pictures ADD COLUMN twin_a INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN twin_b INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN twin_c INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN shelved INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN taken TEXT NOT NULL DEFAULT ''`,
		`CREATE INDEX shelf_newest ON pictures(shelved, id)`,
		`CREATE INDEX shelf_folder ON pictures(shelved, section, folder, id)`,
		`CREATE INDEX shelf_name ON pictures(shelved, section, name, id)`,
		`CREATE INDEX shelf_taken ON pictures(shelved, taken, id)`,
		`CREATE INDEX shelf_heavier ON pictures(shelved, bytes, id)`,
		`CREATE INDEX shelf_person ON pictures(shelved, person, id)`,
		`CREATE INDEX shelf_flags ON pictures(shelved, described, soft, heavy, position, consent, id)`,
		`CREATE INDEX shelf_until ON pictures(shelved, consent_until, id)`,
		`CREATE INDEX shelf_age ON pictures(shelved, created_at, id)`,
		`CREATE INDEX pictures_arrived ON pictures(arrived_hash) WHERE arrived_hash <> ''`,
		`CREATE TABLE folders (section TEXT NOT NULL, path TEXT NOT NULL, PRIMARY KEY (section, path))`,
		`CREATE TABLE tags (picture_id INTEGER NOT NULL REFERENCES pictures(id) ON DELETE CASCADE, tag TEXT NOT NULL, PRIMARY KEY (picture_id, tag))`,
		`CREATE INDEX tags_tag ON tags(tag)`,
		`CREATE TABLE former_names (picture_id INTEGER NOT NULL REFERENCES pictures(id) ON DELETE CASCADE, section TEXT NOT NULL, name TEXT NOT NULL, PRIMARY KEY (picture_id, name))`,
		`CREATE TABLE placed (page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE, picture_id INTEGER NOT NULL, PRIMARY KEY (page_id, picture_id))`,
		`CREATE INDEX placed_picture ON placed(picture_id)`,
		`CREATE TABLE taken_from_card (hash TEXT PRIMARY KEY, picture_id INTEGER NOT NULL)`,
		`CREATE VIRTUAL TABLE pictures_fts USING fts5(name, words, credit, tags, folder, former, tokenize="unicode61 remove_diacritics 2", prefix='2 3 4')`,
	)},
	{ID: "0004-steps-are-a-tree", Migrate: relational.Statements(
		`ALTER TABLE steps ADD COLUMN parent INTEGER NOT NULL DEFAULT -1`,
		`UPDATE steps SET parent = seq - 1`,
	)},
	{ID: "0005-pages-together", Migrate: relational.Statements(
		`ALTER TABLE page_steps ADD COLUMN parent INTEGER NOT NULL DEFAULT -1`,
		`UPDATE page_steps SET parent = seq - 1`,
		`CREATE TABLE redirects (path TEXT PRIMARY KEY, page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE)`,
		`CREATE TABLE live_versions (
			id INTEGER PRIMARY KEY, page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE,
			at DATETIME NOT NULL, person TEXT NOT NULL, path TEXT NOT NULL, doc TEXT NOT NULL, files TEXT NOT NULL, print TEXT NOT NULL)`,
		`CREATE INDEX live_versions_page ON live_versions(page_id, id)`,
	)},
	{ID: "0006-signed", Migrate: relational.Statements(
		`ALTER TABLE live_versions ADD COLUMN signed TEXT NOT NULL DEFAULT ''`,
	)},
	{ID: "0007-card-remembers-nothing", Migrate: relational.Statements(
		`DROP TABLE taken_from_card`,
	)},
	{ID: "0008-traceable", Migrate: inOrder(relational.Statements(
		`ALTER TABLE pictures ADD COLUMN version INTEGER NOT NULL DEFAULT 1`,
		`ALTER TABLE pictures ADD COLUMN consents TEXT`,
		`ALTER TABLE cuts ADD COLUMN made_at DATETIME`,
		`CREATE INDEX cuts_hash ON cuts(hash)`,
		`CREATE TABLE copies (
			picture_id INTEGER NOT NULL REFERENCES pictures(id) ON DELETE CASCADE, purpose TEXT NOT NULL, n INTEGER NOT NULL,
			key TEXT NOT NULL, hash TEXT NOT NULL, PRIMARY KEY (picture_id, purpose, n))`,
		`ALTER TABLE pages ADD COLUMN differs INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pages ADD COLUMN compared TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pages ADD COLUMN stops INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pages ADD COLUMN warns INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pages ADD COLUMN judged TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE published RENAME TO published_before`,
		`DROP INDEX published_page`,
		`CREATE TABLE published (
			page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE, path TEXT NOT NULL, hash TEXT NOT NULL,
			media_type TEXT NOT NULL, published_at DATETIME NOT NULL, picture_id INTEGER NOT NULL DEFAULT 0, picture_version INTEGER NOT NULL DEFAULT 0,
			cut_key TEXT NOT NULL DEFAULT '', original TEXT NOT NULL DEFAULT '', veils TEXT,
			PRIMARY KEY (page_id, path, hash))`,
		`CREATE INDEX published_path ON published(path)`,
		`CREATE INDEX published_hash ON published(hash)`,
		`CREATE INDEX published_picture ON published(picture_id) WHERE picture_id > 0`,
		`INSERT INTO published (page_id, path, hash, media_type, published_at, picture_id, cut_key)
			SELECT page_id, path, hash, media_type, published_at,
				COALESCE((SELECT picture_id FROM cuts WHERE cuts.hash = b.hash LIMIT 1), 0), COALESCE((SELECT key FROM cuts WHERE cuts.hash = b.hash LIMIT 1), '')
			FROM published_before AS b`,
		`DROP TABLE published_before`,
		`CREATE TABLE gone (address TEXT PRIMARY KEY, at DATETIME NOT NULL)`,
		`ALTER TABLE ruler_sheets ADD COLUMN source_hash TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE trail ADD COLUMN picture_id INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE trail ADD COLUMN salt TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE trail ADD COLUMN digest TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE trail ADD COLUMN chain TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE trail ADD COLUMN erased INTEGER NOT NULL DEFAULT 0`,
		`CREATE INDEX trail_picture ON trail(picture_id) WHERE picture_id > 0`,
		`CREATE TABLE trail_head (id INTEGER PRIMARY KEY, n INTEGER NOT NULL, chain TEXT NOT NULL)`,
		`CREATE INDEX placed_page ON placed(page_id)`,
		`CREATE INDEX page_steps_newest ON page_steps(page_id, id)`,
		`DELETE FROM sessions`, // their tokens were kept as they are; everybody signs in once more
	), chainTrail, consentOfEach, tracedLives)},
	{ID: "0009-veils-tell-nothing", Migrate: inOrder(relational.Statements(
		`ALTER TABLE pictures ADD COLUMN secret TEXT NOT NULL DEFAULT ''`,
		`UPDATE pictures SET secret = lower(hex(randomblob(16)))`,
		`UPDATE pictures SET secret = (SELECT secret FROM pictures AS first WHERE first.id = pictures.variant_of) WHERE variant_of IN (SELECT id FROM pictures)`,
		// Veils that are averages of what they hide can be guessed back: what went live
		// with one, or nobody knows with what, is to go live anew.
		`ALTER TABLE published ADD COLUMN averaged INTEGER NOT NULL DEFAULT 0`,
		`UPDATE published SET averaged = 1 WHERE picture_id > 0 AND (length(veils) > 4 OR
			veils IS NULL AND picture_id IN (SELECT id FROM pictures WHERE instr(work, '"op":"veil"') > 0))`,
		`UPDATE pages SET compared = '', judged = '' WHERE id IN (SELECT page_id FROM published WHERE averaged = 1)`,
		`ALTER TABLE pictures ADD COLUMN faces TEXT`,
		`ALTER TABLE pictures ADD COLUMN faces_by INTEGER NOT NULL DEFAULT 0`,
	), averagedLives)},
	{ID: "0010-what-stands-for-pages", Migrate: inOrder(relational.Statements(
		`ALTER TABLE published ADD COLUMN "for" TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE published ADD COLUMN width INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE published ADD COLUMN height INTEGER NOT NULL DEFAULT 0`,
		`CREATE TABLE live_cards (
			page_id INTEGER PRIMARY KEY REFERENCES pages(id) ON DELETE CASCADE, title TEXT NOT NULL, from_day TEXT NOT NULL, until TEXT NOT NULL,
			summary TEXT NOT NULL, first_at DATETIME NOT NULL, cover INTEGER NOT NULL, files TEXT NOT NULL,
			day TEXT GENERATED ALWAYS AS (CASE WHEN from_day <> '' THEN from_day ELSE substr(first_at, 1, 19) END) STORED)`,
		`CREATE INDEX live_cards_day ON live_cards(day)`,
		`CREATE INDEX live_cards_cover ON live_cards(cover) WHERE cover > 0`,
		`CREATE TABLE live_terms (page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE, key TEXT NOT NULL, PRIMARY KEY (page_id, key))`,
		`CREATE INDEX live_terms_key ON live_terms(key, page_id)`,
		`CREATE TABLE live_lists (page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE, key TEXT NOT NULL, PRIMARY KEY (page_id, key))`,
		`CREATE INDEX live_lists_key ON live_lists(key, page_id)`,
		`CREATE TABLE page_terms (page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE, key TEXT NOT NULL, PRIMARY KEY (page_id, key))`,
		`CREATE INDEX page_terms_key ON page_terms(key, page_id)`,
		themesOf("INSERT"), themesOf("UPDATE OF doc"),
	), cardsOfLives)},
	{ID: "0011-leaves-begin", Migrate: relational.Statements(`ALTER TABLE live_versions ADD COLUMN leaf TEXT NOT NULL DEFAULT ''`)},
	{ID: "0012-albums", Migrate: relational.Statements(
		`CREATE TABLE albums (id INTEGER PRIMARY KEY AUTOINCREMENT, section TEXT NOT NULL, doc TEXT NOT NULL, version INTEGER NOT NULL DEFAULT 0, step INTEGER NOT NULL DEFAULT 0, dropped_at DATETIME, updated_at DATETIME NOT NULL)`,
		`CREATE TABLE album_steps (id INTEGER PRIMARY KEY AUTOINCREMENT, album_id INTEGER NOT NULL REFERENCES albums(id) ON DELETE CASCADE, seq INTEGER NOT NULL DEFAULT 0, parent INTEGER NOT NULL, text TEXT NOT NULL, doc TEXT NOT NULL, person TEXT NOT NULL DEFAULT '', created_at DATETIME NOT NULL)`,
		`CREATE UNIQUE INDEX album_steps_seq ON album_steps(album_id, seq)`,
		`CREATE TABLE album_pictures (album_id INTEGER NOT NULL REFERENCES albums(id) ON DELETE CASCADE, picture_id INTEGER NOT NULL, PRIMARY KEY (album_id, picture_id))`,
		`CREATE INDEX album_pictures_picture ON album_pictures(picture_id)`,
	)},
	{ID: "0013-banners", Migrate: relational.Statements(
		`CREATE TABLE banners (id INTEGER PRIMARY KEY AUTOINCREMENT, section TEXT NOT NULL, doc TEXT NOT NULL, live TEXT, approved_at DATETIME, approved_by TEXT NOT NULL DEFAULT '', stopped INTEGER NOT NULL DEFAULT 0, version INTEGER NOT NULL DEFAULT 0, step INTEGER NOT NULL DEFAULT 0, dropped_at DATETIME, updated_at DATETIME NOT NULL)`,
		`CREATE TABLE banner_steps (id INTEGER PRIMARY KEY AUTOINCREMENT, banner_id INTEGER NOT NULL REFERENCES banners(id) ON DELETE CASCADE, seq INTEGER NOT NULL DEFAULT 0, parent INTEGER NOT NULL, text TEXT NOT NULL, doc TEXT NOT NULL, person TEXT NOT NULL DEFAULT '', created_at DATETIME NOT NULL)`,
		`CREATE UNIQUE INDEX banner_steps_seq ON banner_steps(banner_id, seq)`,
		`CREATE TABLE banner_files (
			banner_id INTEGER NOT NULL REFERENCES banners(id) ON DELETE CASCADE, path TEXT NOT NULL, hash TEXT NOT NULL, media_type TEXT NOT NULL,
			picture_id INTEGER NOT NULL, picture_version INTEGER NOT NULL, cut_key TEXT NOT NULL, original TEXT NOT NULL, veils TEXT,
			width INTEGER NOT NULL, height INTEGER NOT NULL, phone INTEGER NOT NULL, moves INTEGER NOT NULL, PRIMARY KEY (banner_id, path))`,
		`CREATE INDEX banner_files_path ON banner_files(path)`,
		`CREATE INDEX banner_files_hash ON banner_files(hash)`,
		`CREATE INDEX banner_files_picture ON banner_files(picture_id)`,
		`CREATE TABLE occasions (id INTEGER PRIMARY KEY AUTOINCREMENT, title TEXT NOT NULL, from_day TEXT NOT NULL, until TEXT NOT NULL, updated_at DATETIME NOT NULL)`,
		`CREATE TABLE banner_days (banner_id INTEGER NOT NULL REFERENCES banners(id) ON DELETE CASCADE, day TEXT NOT NULL, shown INTEGER NOT NULL, followed INTEGER NOT NULL, PRIMARY KEY (banner_id, day))`,
		`CREATE TABLE live_spots (page_id INTEGER NOT NULL REFERENCES pages(id) ON DELETE CASCADE, spot TEXT NOT NULL, PRIMARY KEY (page_id, spot))`,
	)},
	{ID: "0014-attachments", Migrate: relational.Statements(
		`CREATE TABLE attachments (id INTEGER PRIMARY KEY AUTOINCREMENT, section TEXT NOT NULL, title TEXT NOT NULL, name TEXT NOT NULL, original_name TEXT NOT NULL, hash TEXT NOT NULL, media_type TEXT NOT NULL, bytes INTEGER NOT NULL, person TEXT NOT NULL DEFAULT '', dropped_at DATETIME, created_at DATETIME NOT NULL)`,
		`CREATE INDEX attachments_section ON attachments(section, id)`,
	)},
	{ID: "0015-invitations", Migrate: relational.Statements(
		`ALTER TABLE people ADD COLUMN invitation TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE people ADD COLUMN invited_until DATETIME`,
		`CREATE UNIQUE INDEX people_invitation ON people(invitation) WHERE invitation <> ''`,
	)},
	{ID: "0016-deleted-pages-and-samples", Migrate: relational.Statements(
		`ALTER TABLE pages ADD COLUMN dropped_at DATETIME`,
		`ALTER TABLE pages ADD COLUMN dropped_slug TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE pages ADD COLUMN sample INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE pictures ADD COLUMN sample INTEGER NOT NULL DEFAULT 0`,
		`CREATE INDEX pictures_sample ON pictures(id) WHERE sample = 1`,
	)},
	{ID: "0017-crops-of-twins", Migrate: relational.Statements(
		`ALTER TABLE pictures ADD COLUMN twin_crops BLOB`,
	)},
	{ID: "0018-lighter-files-of-banners", Migrate: relational.Statements(
		`ALTER TABLE banner_files ADD COLUMN lighter INTEGER NOT NULL DEFAULT 0`,
	)},
	{ID: "0019-destinations", Migrate: relational.Statements(
		`CREATE TABLE destinations (id INTEGER PRIMARY KEY AUTOINCREMENT, title TEXT NOT NULL, kind TEXT NOT NULL, host TEXT NOT NULL DEFAULT '', login TEXT NOT NULL DEFAULT '', folder TEXT NOT NULL, secret TEXT NOT NULL DEFAULT '', public_key TEXT NOT NULL DEFAULT '', host_key TEXT NOT NULL DEFAULT '', base TEXT NOT NULL, relative INTEGER NOT NULL DEFAULT 0, form TEXT NOT NULL DEFAULT '', grace_hours INTEGER NOT NULL DEFAULT 0, layout TEXT NOT NULL DEFAULT '', paused INTEGER NOT NULL DEFAULT 0, state TEXT NOT NULL DEFAULT '', sent_at DATETIME, looked_at DATETIME, failed TEXT NOT NULL DEFAULT '', seen TEXT NOT NULL DEFAULT '', created_at DATETIME NOT NULL)`,
		`CREATE TABLE sent_files (destination_id INTEGER NOT NULL REFERENCES destinations(id) ON DELETE CASCADE, path TEXT NOT NULL, sum TEXT NOT NULL, bytes INTEGER NOT NULL, stamp TEXT NOT NULL DEFAULT '', trying TEXT NOT NULL DEFAULT '', theirs TEXT NOT NULL DEFAULT '', unused_since DATETIME, picture_id INTEGER NOT NULL DEFAULT 0, picture_version INTEGER NOT NULL DEFAULT 0, shared INTEGER NOT NULL DEFAULT 0, PRIMARY KEY (destination_id, path)) WITHOUT ROWID`,
		`CREATE INDEX sent_files_picture ON sent_files(picture_id) WHERE picture_id > 0`,
	)},
	{ID: "0020-lighter-files-later", Migrate: relational.Statements(
		`CREATE TABLE lighter_due (id INTEGER PRIMARY KEY AUTOINCREMENT, page_id INTEGER NOT NULL UNIQUE REFERENCES pages(id) ON DELETE CASCADE)`,
	)},
	{ID: "0021-provider-of-accounts", Migrate: relational.Statements(
		`ALTER TABLE people ADD COLUMN issuer TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE people ADD COLUMN subject TEXT NOT NULL DEFAULT ''`,
		`CREATE UNIQUE INDEX people_subject ON people(issuer, subject) WHERE subject <> ''`,
		`CREATE TABLE provider (id INTEGER PRIMARY KEY CHECK (id = 1), title TEXT NOT NULL, issuer TEXT NOT NULL, client_id TEXT NOT NULL, secret TEXT NOT NULL DEFAULT '', claim TEXT NOT NULL DEFAULT '', new_comer INTEGER NOT NULL DEFAULT 0, "groups" TEXT NOT NULL DEFAULT '[]')`,
	)},
	{ID: "0022-sessions-and-second-steps", Migrate: relational.Statements(
		`CREATE TABLE signed_in (id INTEGER PRIMARY KEY AUTOINCREMENT, person_id INTEGER NOT NULL REFERENCES people(id) ON DELETE CASCADE, since DATETIME NOT NULL, seen_at DATETIME NOT NULL, browser TEXT NOT NULL DEFAULT '')`,
		`CREATE INDEX signed_in_person ON signed_in(person_id)`,
		`ALTER TABLE people ADD COLUMN second TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE people ADD COLUMN second_used INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE people ADD COLUMN second_spare TEXT NOT NULL DEFAULT '[]'`,
	)},
	{ID: "0023-regions-of-storage", Migrate: relational.Statements(
		`ALTER TABLE destinations ADD COLUMN region TEXT NOT NULL DEFAULT ''`,
	)},
	{ID: "0024-passkeys", Migrate: relational.Statements(
		`CREATE TABLE passkeys (id INTEGER PRIMARY KEY AUTOINCREMENT, person_id INTEGER NOT NULL REFERENCES people(id) ON DELETE CASCADE, handle TEXT NOT NULL, key_id TEXT NOT NULL UNIQUE, kept TEXT NOT NULL, browser TEXT NOT NULL DEFAULT '', added_at DATETIME NOT NULL, used_at DATETIME)`,
		`CREATE INDEX passkeys_person ON passkeys(person_id)`,
	)},
	{ID: "0025-unused-pictures", Migrate: relational.Statements(
		`CREATE TABLE unused (picture_id INTEGER PRIMARY KEY REFERENCES pictures(id) ON DELETE CASCADE, since DATETIME NOT NULL, told_at DATETIME)`,
	)},
	{ID: "0026-jobs", Migrate: relational.Statements(
		`CREATE TABLE jobs (id INTEGER PRIMARY KEY AUTOINCREMENT, kind TEXT NOT NULL, title TEXT NOT NULL, person_id INTEGER NOT NULL, tasks TEXT NOT NULL, done INTEGER NOT NULL DEFAULT 0, failed TEXT NOT NULL DEFAULT '[]', begun_at DATETIME NOT NULL, ended_at DATETIME, stopped INTEGER NOT NULL DEFAULT 0)`,
		`CREATE INDEX jobs_open ON jobs(id) WHERE ended_at IS NULL`,
	)},
	{ID: "0027-erasures", Migrate: relational.Statements(
		`CREATE TABLE erasures (id INTEGER PRIMARY KEY AUTOINCREMENT, picture INTEGER NOT NULL, came_at DATETIME NOT NULL, variants INTEGER NOT NULL, names INTEGER NOT NULL, why TEXT NOT NULL, erased_at DATETIME NOT NULL)`,
	)},
	{ID: "0028-former-sites", Migrate: relational.Statements(
		`CREATE TABLE former_sites (id INTEGER PRIMARY KEY AUTOINCREMENT, title TEXT NOT NULL, hosts TEXT NOT NULL, hash TEXT NOT NULL, bytes INTEGER NOT NULL, sum TEXT NOT NULL, person TEXT NOT NULL, added_at DATETIME NOT NULL, mended_hash TEXT NOT NULL DEFAULT '', mended_sum TEXT, mended_at DATETIME, stayed TEXT NOT NULL DEFAULT '[]')`,
		`CREATE TABLE former_choices (id INTEGER PRIMARY KEY AUTOINCREMENT, former_site_id INTEGER NOT NULL REFERENCES former_sites(id) ON DELETE CASCADE, kind TEXT NOT NULL, page TEXT NOT NULL, address TEXT NOT NULL, file TEXT NOT NULL, text TEXT NOT NULL, person TEXT NOT NULL, at DATETIME NOT NULL, UNIQUE (former_site_id, kind, page, address, file))`,
	)},
	{ID: "0029-rounds", Migrate: relational.Statements(
		`CREATE TABLE rounds (id INTEGER PRIMARY KEY AUTOINCREMENT, place INTEGER NOT NULL, at DATETIME NOT NULL, sum TEXT NOT NULL, fault TEXT NOT NULL DEFAULT '')`,
		`CREATE INDEX rounds_of ON rounds(place, at)`,
		`CREATE TABLE found (id INTEGER PRIMARY KEY AUTOINCREMENT, place INTEGER NOT NULL, mark TEXT NOT NULL, finding TEXT NOT NULL, section TEXT NOT NULL DEFAULT '', since DATETIME NOT NULL, left_by TEXT NOT NULL DEFAULT '', left_at DATETIME, UNIQUE (place, mark))`,
		`CREATE INDEX found_open ON found(id) WHERE left_at IS NULL`,
	)},
	{ID: "0030-what-goes-on", Migrate: relational.Statements(
		`ALTER TABLE pictures ADD COLUMN pages_brought TEXT`,
		`ALTER TABLE former_sites ADD COLUMN start TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE former_sites ADD COLUMN unfinished INTEGER NOT NULL DEFAULT 0`,
		`CREATE TABLE former_looks (former_site_id INTEGER PRIMARY KEY REFERENCES former_sites(id) ON DELETE CASCADE, hash TEXT NOT NULL, at DATETIME NOT NULL, seen TEXT NOT NULL, measured TEXT)`,
		`ALTER TABLE destinations ADD COLUMN former_site INTEGER NOT NULL DEFAULT 0`,
	)},
	{ID: "0031-kept-elsewhere", Migrate: inOrder(relational.Statements(
		`ALTER TABLE trail ADD COLUMN nanos INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE jobs ADD COLUMN program TEXT NOT NULL DEFAULT ''`,
	), func(tx *gorm.DB) error { // the index of words knew no accents but Latin ones
		return relational.New(tx, tx, engine{}).IndexAll()
	})},
	{ID: "0032-compared", Migrate: relational.Statements(
		`CREATE TABLE former_compared (former_site_id INTEGER PRIMARY KEY REFERENCES former_sites(id) ON DELETE CASCADE, hash TEXT NOT NULL, at DATETIME NOT NULL, pages TEXT NOT NULL)`,
	)},
	{ID: "0033-decoded", Migrate: relational.Statements(
		`CREATE TABLE decoded (day TEXT PRIMARY KEY, millis INTEGER NOT NULL)`,
	)},
	{ID: "0034-jobs-left", Migrate: relational.Statements(
		`ALTER TABLE jobs ADD COLUMN within INTEGER NOT NULL DEFAULT 0`,
	)},
	{ID: "0035-jobs-about", Migrate: relational.Statements(
		`ALTER TABLE jobs ADD COLUMN about INTEGER NOT NULL DEFAULT 0`,
		`CREATE UNIQUE INDEX jobs_about ON jobs(kind, about) WHERE ended_at IS NULL AND about <> 0`,
		`CREATE INDEX jobs_last ON jobs(kind, about, id) WHERE about <> 0`,
	)},
}

// inOrder runs one after the other.
func inOrder(all ...gormigrate.MigrateFunc) gormigrate.MigrateFunc {
	return func(tx *gorm.DB) error {
		for _, one := range all {
			if err := one(tx); err != nil {
				return err
			}
		}
		return nil
	}
}

func migrate(db *gorm.DB) error {
	options := *gormigrate.DefaultOptions
	options.UseTransaction = true
	options.ValidateUnknownMigrations = true
	return gormigrate.New(db, &options, migrations).Migrate()
}
