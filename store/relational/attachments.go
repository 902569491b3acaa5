package relational

import "mivlet/store"

func (s *Records) AddAttachment(a *store.Attachment) error { return s.write.Create(a).Error }

func (s *Records) SaveAttachment(a *store.Attachment) error {
	return s.write.Select("*").Updates(a).Error
}

func (s *Records) Attachment(id uint) (store.Attachment, error) {
	var a store.Attachment
	return a, found(s.read.First(&a, id).Error)
}

func (s *Records) AttachmentsOf(sections []string) ([]store.Attachment, error) {
	var all []store.Attachment
	q := s.read.Order("id DESC")
	if sections != nil {
		q = q.Where("section IN ?", sections)
	}
	return all, q.Find(&all).Error
}

func (s *Records) DropAttachment(id uint) error { return s.write.Delete(&store.Attachment{}, id).Error }
