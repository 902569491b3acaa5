package relational

import "mivlet/store"

// sampleTables are where each kind is kept, with what is asked of those that are there.
var sampleTables = []struct {
	kind         store.SampleKind
	table, there string
}{{store.SamplePage, "pages", "dropped_at IS NULL"}, {store.SamplePicture, "pictures", "station <> 'bin'"}}

func (s *Records) AddSample(kind store.SampleKind, id uint) error {
	for _, t := range sampleTables {
		if t.kind == kind {
			return s.write.Exec("UPDATE "+t.table+" SET sample = TRUE WHERE id = ?", id).Error
		}
	}
	return store.ErrNotFound
}

func (s *Records) Samples() (map[store.SampleKind][]uint, error) {
	all := map[store.SampleKind][]uint{}
	for _, t := range sampleTables {
		var ids []uint
		if err := s.read.Raw("SELECT id FROM " + t.table + " WHERE sample = TRUE AND " + t.there + " ORDER BY id").Scan(&ids).Error; err != nil {
			return nil, err
		}
		if len(ids) > 0 {
			all[t.kind] = ids
		}
	}
	return all, nil
}

func (s *Records) ForgetSamples() error {
	for _, t := range sampleTables {
		if err := s.write.Exec("UPDATE " + t.table + " SET sample = FALSE WHERE sample = TRUE").Error; err != nil {
			return err
		}
	}
	return nil
}
