package shop

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"strings"

	"grapnel/app/picture"
	"grapnel/app/record"
	"grapnel/core/evidence"
	"grapnel/core/problem"
)

// pictures are taken at the vehicle.
type pictures struct{ *house }

// MostPhoto is the largest picture kept, in bytes; the screen makes them smaller
// before they are sent. MostPhotos is how many a job has at the most.
const (
	MostPhoto  = 3 << 20
	MostPhotos = 120
)

// KeepPhoto keeps a picture with a job, drawn anew. The same ID twice is kept once.
func (s pictures) KeepPhoto(ctx context.Context, who Person, jobID ID, p record.Photo, body []byte) error {
	var found problem.List
	if len(body) == 0 || len(body) > MostPhoto {
		found = append(found, problem.New("problem.range", "photo", "", problem.Range(1, MostPhoto, "bytes")))
	}
	found.CheckText("note", p.Note, 0, maxReason)
	if err := found.Err(); err != nil {
		return err
	}
	sum := sha256.Sum256(body)
	asked := map[string]any{"media_type": p.MediaType, "note": p.Note, "bytes": hex.EncodeToString(sum[:])}
	body, err := picture.Clean(ctx, body)
	if err != nil {
		return err
	}
	p.MediaType = picture.MediaType
	c := command{who: who, jobID: jobID, kind: "photo_kept", key: &keyed{id: p.ID, kind: "photo_kept", subject: &jobID, body: asked}}
	return s.run(ctx, c, func(tx Tx, j *record.Job) (done, error) {
		m, err := s.moment(ctx, tx, who.ShopID)
		if err != nil {
			return done{}, err
		}
		n, err := tx.CountPhotos(ctx, who.ShopID, jobID)
		if err != nil {
			return done{}, err
		}
		if n >= MostPhotos {
			return done{}, problem.List{problem.New("problem.range", "photo", "", problem.Range(0, MostPhotos, "a job"))}
		}
		taken := p
		at, problems := evidence.TakenAt("", p.TakenAt, m.Now, m.Zone)
		if len(problems) > 0 {
			return done{}, problems
		}
		taken.TakenAt, taken.JobID, taken.VehicleID, taken.PersonID, taken.Note = at, &j.ID, j.VehicleID, who.ID, strings.TrimSpace(p.Note)
		did := map[string]any{"id": taken.ID, "media_type": taken.MediaType, "note": taken.Note, "taken_at": taken.TakenAt, "size": len(body)}
		return done{body: did}, tx.AddPhoto(ctx, who.ShopID, taken, body)
	})
}

// PhotoBody is a picture's bytes with what they are.
func (s pictures) PhotoBody(ctx context.Context, who Person, id ID) (mediaType string, body []byte, err error) {
	return s.store.PhotoBody(ctx, who.ShopID, id)
}
