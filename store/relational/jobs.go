package relational

import (
	"time"

	"mivlet/store"
)

func (s *Records) AddJob(j *store.Job) error {
	j.Tasks, j.Failed = append([]store.JobTask{}, j.Tasks...), append([]string{}, j.Failed...)
	return s.write.Create(j).Error
}

func (s *Records) SaveJob(j store.Job) error {
	j.Failed = append([]string{}, j.Failed...)
	return s.write.Model(&j).Select("Done", "Within", "Failed", "EndedAt", "Stopped").Updates(&j).Error
}

func (s *Records) Job(id uint) (store.Job, error) {
	var j store.Job
	return j, found(s.read.First(&j, id).Error)
}

func (s *Records) LastJob(kind string, about uint) (store.Job, error) {
	var j store.Job
	return j, found(s.read.Omit("Tasks").Order("id DESC").First(&j, "kind = ? AND about = ?", kind, about).Error)
}

func (s *Records) NoteJob(id uint, program string, within int) error {
	return s.write.Model(&store.Job{}).Where("id = ? AND program = ? AND ended_at IS NULL", id, program).UpdateColumn("within", within).Error
}

func (s *Records) TakeJob(id uint, from, to string) (bool, error) {
	res := s.write.Model(&store.Job{}).Where("id = ? AND program = ? AND ended_at IS NULL", id, from).UpdateColumn("program", to)
	return res.RowsAffected > 0, res.Error
}

func (s *Records) OpenJobs() ([]store.Job, error) {
	var all []store.Job
	return all, s.read.Order("id").Find(&all, "ended_at IS NULL").Error
}

func (s *Records) Jobs(most int) ([]store.Job, error) {
	var all []store.Job
	return all, s.read.Order("id DESC").Limit(most).Find(&all).Error
}

func (s *Records) DropJobsEndedBefore(at time.Time) error {
	return s.write.Where("ended_at < ?", at).Delete(&store.Job{}).Error
}
