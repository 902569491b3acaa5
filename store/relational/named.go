package relational

import "gorm.io/gorm"

// fileColumns are the columns that name files by their hash.
var fileColumns = []string{
	"SELECT original_hash FROM pictures", "SELECT arrived_hash FROM pictures", "SELECT preview_hash FROM pictures",
	"SELECT thumb_hash FROM pictures", "SELECT look_hash FROM pictures", "SELECT hash FROM cuts", "SELECT hash FROM copies",
	"SELECT hash FROM published", "SELECT hash FROM ruler_sheets", "SELECT hash FROM banner_files", "SELECT hash FROM attachments",
	"SELECT hash FROM former_sites", "SELECT mended_hash FROM former_sites",
	"SELECT json_extract(file.value, '$.Hash') FROM live_versions, json_each(live_versions.files) AS file WHERE json_extract(file.value, '$.Hash') IS NOT NULL",
	attachments("pages"), attachments("page_steps"), attachments("live_versions"),
}

// attachments asks for the files that the documents of a table offer.
func attachments(table string) string {
	return "SELECT json_extract(block.value, '$.file.hash') FROM " + table + ", json_each(" + table + ".doc, '$.blocks') AS block WHERE json_extract(block.value, '$.file.hash') IS NOT NULL"
}

func (s *Records) NamedFiles() (map[string]bool, error) {
	named := map[string]bool{}
	err := s.read.Transaction(func(tx *gorm.DB) error { // all as they are at one moment
		for _, ask := range fileColumns {
			var hashes []string
			if err := tx.Raw(ask).Scan(&hashes).Error; err != nil {
				return err
			}
			for _, h := range hashes {
				named[h] = true
			}
		}
		return nil
	})
	delete(named, "")
	return named, err
}
