package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// Photo is a picture of what came out of a pull.
type Photo struct {
	ID          uuid.UUID
	PullID      uuid.UUID `db:"pull_id"`
	Cavity      int       // from 1; 0 for the whole pull
	Wide, Tall  int       // pixels
	JPEG, Small []byte
}

// MostPhotos of a pull.
const MostPhotos = 24

// ErrManyPhotos says that a pull has all the pictures that it may have.
var ErrManyPhotos = errors.New("the pull has all the pictures that it may have")

// AddPhoto keeps a picture of a pull; under its ID it is kept once.
func (s *Store) AddPhoto(ctx context.Context, p Photo) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		was, m, err := s.logged(ctx, tx, p.PullID)
		if err != nil {
			return err
		}
		if p.Cavity > m.Cavities {
			return ErrNoSuchCavity
		}
		var n int
		if err := tx.GetContext(ctx, &n, `SELECT count(*) FROM photo WHERE pull_id = $1 AND id <> $2`, was.ID, p.ID); err != nil {
			return err
		}
		if n >= MostPhotos {
			return ErrManyPhotos
		}
		return addPhoto(ctx, tx, p)
	})
}

func addPhoto(ctx context.Context, tx *sqlx.Tx, p Photo) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO photo (id, pull_id, cavity, wide, tall, jpeg, small) VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (id) DO NOTHING`, p.ID, p.PullID, p.Cavity, p.Wide, p.Tall, p.JPEG, p.Small)
	return err
}

// Picture is a picture itself, or a small one of it.
func (s *Store) Picture(ctx context.Context, id uuid.UUID, small bool) (jpeg []byte, err error) {
	err = s.db.GetContext(ctx, &jpeg, `SELECT CASE WHEN $3 THEN small ELSE jpeg END FROM photo JOIN pull ON pull.id = pull_id
		JOIN mould ON mould.id = mould_id WHERE photo.id = $1 AND shop_id = $2`, id, s.Shop, small)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return jpeg, err
}

// StrikePhoto takes a picture away, or brings it back.
func (s *Store) StrikePhoto(ctx context.Context, id uuid.UUID, struck bool) error {
	return s.one(ctx, `UPDATE photo SET struck = CASE WHEN $3 THEN now() END FROM pull JOIN mould ON mould.id = mould_id
		WHERE pull.id = pull_id AND photo.id = $1 AND shop_id = $2`, id, s.Shop, struck)
}

// photosOf are the pictures of some pulls without what is on them, the oldest first.
func (s *Store) photosOf(ctx context.Context, pulls []uuid.UUID) (map[uuid.UUID][]Photo, error) {
	var all []Photo
	err := s.db.SelectContext(ctx, &all, `SELECT id, pull_id, cavity, wide, tall FROM photo
		WHERE pull_id = ANY($1) AND struck IS NULL ORDER BY taken, id`, pulls)
	out := make(map[uuid.UUID][]Photo)
	for _, p := range all {
		out[p.PullID] = append(out[p.PullID], p)
	}
	return out, err
}

// wholePhotos are all pictures of the shop with what is on them, by their pull.
func (s *Store) wholePhotos(ctx context.Context) (map[uuid.UUID][]Photo, error) {
	var all []Photo
	err := s.db.SelectContext(ctx, &all, `SELECT photo.id, pull_id, cavity, wide, tall, jpeg, small FROM photo JOIN pull ON pull.id = pull_id
		JOIN mould ON mould.id = mould_id WHERE shop_id = $1 AND photo.struck IS NULL ORDER BY taken, photo.id`, s.Shop)
	out := make(map[uuid.UUID][]Photo)
	for _, p := range all {
		out[p.PullID] = append(out[p.PullID], p)
	}
	return out, err
}

// AddPictures puts the pictures of the whole log to its pulls.
func (s *Store) AddPictures(ctx context.Context, pulls []Pull) error {
	of, err := s.wholePhotos(ctx)
	for i, p := range pulls {
		pulls[i].Photos = of[p.ID]
	}
	return err
}
