package sqlite

import (
	"encoding/json"
	"fmt"

	"gorm.io/gorm"

	"mivlet/core/consent"
	"mivlet/store"
)

// What the migration 0008-traceable does beyond its statements.

// chainTrail chains the entries that the trail had before it was a chain.
func chainTrail(tx *gorm.DB) error {
	var all []store.Trace
	if err := tx.Order("id").Find(&all).Error; err != nil {
		return err
	}
	chain := ""
	for _, t := range all {
		t.At = t.At.UTC()
		t.Digest = t.Says()
		t.Chain = store.Link(chain, t.Digest)
		chain = t.Chain
		if err := tx.Model(&store.Trace{}).Where("id = ?", t.ID).UpdateColumns(map[string]any{"at": t.At, "digest": t.Digest, "chain": t.Chain}).Error; err != nil {
			return err
		}
	}
	return tx.Exec("INSERT INTO trail_head (id, n, chain) VALUES (1, ?, ?)", len(all), chain).Error
}

// consentOfEach makes the one note about who is seen on a picture an entry, and names
// each veil. Which veil covers whom nobody has said: the sign-off asks for it.
func consentOfEach(tx *gorm.DB) error {
	for _, table := range []string{"pictures", "steps"} {
		var rows []struct {
			ID   uint
			Work string
		}
		if err := tx.Table(table).Select("id", "work").Find(&rows).Error; err != nil {
			return err
		}
		for _, row := range rows {
			work, entries, err := upgradeWork([]byte(row.Work))
			if err != nil {
				return fmt.Errorf("%s %d: %w", table, row.ID, err)
			}
			change := map[string]any{"work": string(work)}
			if table == "pictures" && len(entries) > 0 {
				noted, err := json.Marshal(entries)
				if err != nil {
					return err
				}
				change["consents"], change["consent"] = string(noted), string(consent.Strictest(entries))
			}
			if err := tx.Table(table).Where("id = ?", row.ID).UpdateColumns(change).Error; err != nil {
				return err
			}
		}
	}
	return nil
}

// upgradeWork takes the note about consent out of the JSON of a work and gives the
// veils in it their names.
func upgradeWork(data []byte) (json.RawMessage, []consent.Entry, error) {
	var work map[string]json.RawMessage
	if err := json.Unmarshal(data, &work); err != nil {
		return nil, nil, err
	}
	var old struct {
		Consent string `json:"consent"`
		Until   string `json:"consent_until"`
		Note    string `json:"consent_note"`
	}
	if err := json.Unmarshal(data, &old); err != nil {
		return nil, nil, err
	}
	for _, k := range []string{"consent", "consent_until", "consent_note"} {
		delete(work, k)
	}
	var entries []consent.Entry
	if state := map[string]consent.State{"none": consent.Nobody, "given": consent.Allowed, "refused": consent.Refused}[old.Consent]; state != "" {
		entries = append(entries, consent.Entry{ID: "first", Whom: "somebody on it", State: state, Until: old.Until, Note: old.Note})
	}
	recipe, err := nameVeils(work["recipe"])
	if err != nil {
		return nil, nil, err
	}
	if recipe != nil {
		work["recipe"] = recipe
	}
	out, err := json.Marshal(work)
	return out, entries, err
}

// nameVeils gives every veil of a recipe a name, in their order.
func nameVeils(recipe json.RawMessage) (json.RawMessage, error) {
	if len(recipe) == 0 {
		return nil, nil
	}
	var r map[string]any
	if err := json.Unmarshal(recipe, &r); err != nil {
		return nil, err
	}
	edits, _ := r["edits"].([]any)
	n := 0
	for _, e := range edits {
		edit, _ := e.(map[string]any)
		if v, ok := edit["veil"].(map[string]any); ok {
			n++
			v["id"] = fmt.Sprintf("veil%d", n)
		}
	}
	return json.Marshal(r)
}

// tracedLives notes in what was live once which picture each file shows. Where nobody
// knows what veils a file was cut with, it cannot be put back.
func tracedLives(tx *gorm.DB) error {
	var cuts []store.Cut
	if err := tx.Select("picture_id", "hash", "key").Find(&cuts).Error; err != nil {
		return err
	}
	made := make(map[string]store.Cut, len(cuts))
	for _, c := range cuts {
		made[c.Hash] = c
	}
	var all []store.LiveVersion
	if err := tx.Select("id", "files").Find(&all).Error; err != nil {
		return err
	}
	for _, v := range all {
		for i, f := range v.Files {
			if c, ok := made[f.Hash]; ok {
				v.Files[i].PictureID, v.Files[i].CutKey = c.PictureID, c.Key
			}
		}
		if err := tx.Model(&store.LiveVersion{ID: v.ID}).Select("Files").Updates(&v).Error; err != nil {
			return err
		}
	}
	return nil
}
