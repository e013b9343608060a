package shop

import (
	"context"
	"slices"
	"strings"
	"time"

	"grapnel/core/problem"
)

// Photo is a picture taken at the vehicle, without its bytes.
type Photo struct {
	ID        ID        `json:"id"`
	JobID     ID        `json:"-"`
	MediaType string    `json:"media_type"`
	Note      string    `json:"note"`
	PersonID  ID        `json:"-"`
	By        string    `json:"by"`
	TakenAt   time.Time `json:"taken_at"`
}

// MostPhoto is the largest picture kept, in bytes; the screen makes them smaller
// before they are sent.
const MostPhoto = 3 << 20

var photoTypes = []string{"image/jpeg", "image/png", "image/webp"}

// KeepPhoto keeps a picture with a job. The same ID twice is kept once.
func (s *Service) KeepPhoto(ctx context.Context, who Person, jobID ID, p Photo, body []byte) error {
	var found problem.List
	if p.ID.IsZero() {
		found = append(found, problem.New("problem.missing", "id", "", "a UUID"))
	}
	checkCode(&found, "photo", p.MediaType, photoTypes, false)
	if len(body) > MostPhoto {
		found = append(found, problem.New("problem.range", "photo", "", problem.Range(1, MostPhoto, "bytes")))
	}
	checkText(&found, "note", p.Note, 0, maxReason)
	if err := found.Err(); err != nil {
		return err
	}
	at := s.stamp()
	if p.TakenAt.IsZero() || p.TakenAt.After(at) {
		p.TakenAt = at
	}
	p.JobID, p.PersonID, p.Note = jobID, who.ID, strings.TrimSpace(p.Note)
	return s.note(ctx, who, jobID, "photo_kept", p, func(tx Store, _ *Job) error {
		kept, err := tx.PhotosOfJob(ctx, who.ShopID, jobID)
		if err != nil {
			return err
		}
		if slices.ContainsFunc(kept, func(one Photo) bool { return one.ID == p.ID }) {
			return errNothing
		}
		return tx.AddPhoto(ctx, who.ShopID, p, body)
	})
}

// PhotoBody is a picture's bytes with what they are.
func (s *Service) PhotoBody(ctx context.Context, who Person, id ID) (mediaType string, body []byte, err error) {
	return s.store.PhotoBody(ctx, who.ShopID, id)
}
