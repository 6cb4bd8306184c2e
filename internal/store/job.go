package store

import (
	"bytes"
	"compress/gzip"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"errors"
	"time"

	"bathyform/core/blockout"
	"bathyform/core/design"
	"bathyform/core/mesh"
	"bathyform/core/part"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// Order is what the customer wants.
type Order struct {
	Name     string
	Quantity int
	Due      *time.Time
	Notes    string
	Set      string // what the part belongs to; empty for none
	PerSet   int    // how many go into a set, 1 or more
}

// Master is how a job's master is kept: a mesh by its hash and unit, or
// measures. The report is that of the mesh in its unit.
type Master struct {
	Name      string
	Unit      mesh.Unit        `json:",omitempty"`
	Guess     mesh.UnitGuess   `json:",omitzero"`
	Confirmed bool             `json:",omitempty"` // the caster has said that the unit is right
	Report    *mesh.Report     `json:",omitempty"`
	Measured  *part.Measured   `json:",omitempty"`
	Turn      *part.Turn       `json:",omitempty"` // nil for the mesh as it was drawn
	Solids    []blockout.Solid `json:",omitempty"` // what a block-out is built of
}

// Job is one order on its way through the shop.
type Job struct {
	ID            uuid.UUID
	Order         Order
	Master        *Master
	MeshSHA       string
	Design        *design.Design
	Brief         design.Brief
	DesignVersion int
	Version       int
	Good, Scrap   int // castings so far
	Seconds       int // of them neither, that can be used
	Moulds        int // in use
}

type jobRow struct {
	ID            uuid.UUID
	Name          string
	Quantity      int
	Due           *time.Time
	Notes         string
	SetName       string `db:"set_name"`
	PerSet        int    `db:"per_set"`
	Master        []byte
	MeshSHA       *string `db:"mesh_sha256"`
	Design        []byte
	Brief         []byte
	DesignVersion int `db:"design_version"`
	Version       int
	Good, Scrap   int
	Seconds       int
	Moulds        int
}

func (r jobRow) job() (Job, error) {
	j := Job{ID: r.ID, Order: Order{r.Name, r.Quantity, r.Due, r.Notes, r.SetName, max(1, r.PerSet)}, DesignVersion: r.DesignVersion,
		Version: r.Version, Good: r.Good, Scrap: r.Scrap, Seconds: r.Seconds, Moulds: r.Moulds}
	if r.MeshSHA != nil {
		j.MeshSHA = *r.MeshSHA
	}
	var err error
	if r.Master != nil {
		j.Master = &Master{}
		err = json.Unmarshal(r.Master, j.Master)
	}
	if r.Design != nil && err == nil {
		var doc design.Document
		doc, err = design.Decode(r.Design)
		j.Design = &doc.Design
	}
	if err == nil {
		j.Brief, err = r.brief()
	}
	return j, err
}

func (r jobRow) brief() (b design.Brief, err error) {
	if r.Brief != nil {
		b, err = design.DecodeBrief(r.Brief)
	}
	return b, err
}

const selectJobs = `
	SELECT job.id, name, quantity, due, notes, set_name, per_set, master, mesh_sha256, design, brief, design_version, version,
	       coalesce(made.good, 0) AS good, coalesce(made.scrap, 0) AS scrap, coalesce(made.seconds, 0) AS seconds,
	       coalesce(made.moulds, 0) AS moulds
	FROM job
	LEFT JOIN (
		SELECT job_id, sum(good) AS good, sum(scrap) AS scrap, sum(seconds) AS seconds, count(*) FILTER (WHERE retired IS NULL) AS moulds
		FROM mould GROUP BY job_id
	) made ON made.job_id = job.id
	WHERE job.shop_id = $1 AND deleted IS NULL`

// Jobs lists the shop's jobs, the most urgent first.
func (s *Store) Jobs(ctx context.Context) ([]Job, error) {
	var rows []jobRow
	err := s.db.SelectContext(ctx, &rows, selectJobs+` ORDER BY due NULLS LAST, created, job.id`, s.Shop)
	if err != nil {
		return nil, err
	}
	jobs := make([]Job, len(rows))
	for i, r := range rows {
		if jobs[i], err = r.job(); err != nil {
			return nil, err
		}
	}
	return jobs, nil
}

// Job returns one job.
func (s *Store) Job(ctx context.Context, id uuid.UUID) (Job, error) {
	var row jobRow
	err := s.db.GetContext(ctx, &row, selectJobs+` AND job.id = $2`, s.Shop, id)
	if errors.Is(err, sql.ErrNoRows) {
		return Job{}, ErrNotFound
	}
	if err != nil {
		return Job{}, err
	}
	return row.job()
}

// AddJob takes an order on. One that is there already under its ID stays as it is.
func (s *Store) AddJob(ctx context.Context, id uuid.UUID, o Order) error {
	return s.addOnce(ctx, `INSERT INTO job (id, shop_id, name, quantity, due, notes, set_name, per_set)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8) ON CONFLICT (id) DO NOTHING`,
		`SELECT FROM job WHERE id = $1 AND shop_id = $2 AND name = $3`, o.Name,
		id, s.Shop, o.Name, o.Quantity, o.Due, o.Notes, o.Set, max(1, o.PerSet))
}

// WriteOrder changes an order if the job still has the version.
func (s *Store) WriteOrder(ctx context.Context, id uuid.UUID, o Order, f From) error {
	return s.changeOne(
		ctx,
		f,
		`UPDATE job SET name = $4, quantity = $5, due = $6, notes = $7, set_name = $8, per_set = $9, version = version + 1
		WHERE id = $1 AND shop_id = $2 AND version = $3 AND deleted IS NULL`,
		id,
		s.Shop,
		f.Version,
		o.Name,
		o.Quantity,
		o.Due,
		o.Notes,
		o.Set,
		max(1, o.PerSet),
	)
}

// BinJob puts a job into the bin; its moulds and pulls stay in the log.
func (s *Store) BinJob(ctx context.Context, id uuid.UUID) error {
	return s.one(ctx, `UPDATE job SET deleted = now() WHERE id = $1 AND shop_id = $2 AND deleted IS NULL`, id, s.Shop)
}

// UnbinJob takes a job out of the bin, back onto the list.
func (s *Store) UnbinJob(ctx context.Context, id uuid.UUID) error {
	return s.one(ctx, `UPDATE job SET deleted = NULL WHERE id = $1 AND shop_id = $2 AND deleted IS NOT NULL`, id, s.Shop)
}

// Binned is a job in the bin.
type Binned struct {
	ID      uuid.UUID
	Name    string
	Deleted time.Time
	Good    int
}

// Bin lists the jobs in the bin, the latest first.
func (s *Store) Bin(ctx context.Context) ([]Binned, error) {
	var out []Binned
	err := s.db.SelectContext(ctx, &out, `SELECT id, name, deleted, coalesce((SELECT sum(good) FROM mould WHERE job_id = job.id), 0) AS good
		FROM job WHERE shop_id = $1 AND deleted IS NOT NULL ORDER BY deleted DESC`, s.Shop)
	return out, err
}

// Mesh is a mesh file to be kept.
type Mesh struct {
	SHA  string
	Gzip []byte
	Size int64
}

// PackMesh makes a mesh file ready to be kept.
func PackMesh(data []byte) (*Mesh, error) {
	sum := sha256.Sum256(data)
	var packed bytes.Buffer
	zw, err := gzip.NewWriterLevel(&packed, gzip.BestSpeed)
	if err != nil {
		return nil, err
	}
	if _, err := zw.Write(data); err != nil {
		return nil, err
	}
	if err := zw.Close(); err != nil {
		return nil, err
	}
	return &Mesh{SHA: hex.EncodeToString(sum[:]), Gzip: packed.Bytes(), Size: int64(len(data))}, nil
}

// WriteMaster gives a job its master, with the mesh that it is made of unless
// that is kept already. A new shape makes the old design worthless, so it is
// set aside with its master unless keepDesign; whoever still works on it hears
// of that.
func (s *Store) WriteMaster(ctx context.Context, id uuid.UUID, m Master, file *Mesh, sha string, keepDesign bool, f From) error {
	doc, err := json.Marshal(m)
	if err != nil {
		return err
	}
	return s.once(ctx, f, func(tx *sqlx.Tx) error {
		if file != nil { // a mesh that is there already is held, so that nobody removes it meanwhile
			if _, err := tx.ExecContext(ctx,
				`INSERT INTO mesh (sha256, stl, size) VALUES ($1, $2, $3) ON CONFLICT (sha256) DO UPDATE SET size = EXCLUDED.size`,
				file.SHA, file.Gzip, file.Size); err != nil {
				return err
			}
		}
		if err := held(ctx, tx, s.Shop, id, f.Version); err != nil {
			return err
		}
		if !keepDesign {
			if err := startAfresh(ctx, tx, id); err != nil {
				return err
			}
		}
		var shaOrNil *string
		if sha != "" {
			shaOrNil = &sha
		}
		if _, err := tx.ExecContext(ctx, `UPDATE job SET master = $2, mesh_sha256 = $3, version = version + 1 WHERE id = $1`,
			id, doc, shaOrNil); err != nil {
			return err
		}
		return tidy(ctx, tx, id)
	})
}

// startAfresh sets a job's master and design aside, and keeps of the brief
// what holds for another shape as well.
func startAfresh(ctx context.Context, tx *sqlx.Tx, id uuid.UUID) error {
	var before jobRow
	if err := tx.GetContext(ctx, &before, `SELECT brief FROM job WHERE id = $1`, id); err != nil {
		return err
	}
	b, err := before.brief()
	if err != nil {
		return err
	}
	brief, err := design.EncodeBrief(b.OtherShape())
	if err != nil {
		return err
	}
	if err := setAside(ctx, tx, id, AnotherMaster); err != nil {
		return err
	}
	_, err = tx.ExecContext(ctx, `UPDATE job SET design = NULL, design_version = design_version + 1, brief = $2 WHERE id = $1`, id, brief)
	return err
}

// MeshFile returns the compressed file of a mesh.
func (s *Store) MeshFile(ctx context.Context, sha string) ([]byte, error) {
	var data []byte
	err := s.db.GetContext(ctx, &data, `SELECT stl FROM mesh WHERE sha256 = $1`, sha)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	return data, err
}

// WriteDesign keeps a design if it still has the version that the change
// started from.
func (s *Store) WriteDesign(ctx context.Context, id uuid.UUID, d design.Design, f From) error {
	doc, err := design.Of(d).Encode()
	if err != nil {
		return err
	}
	return s.changeOne(ctx, f, `UPDATE job SET design = $4, design_version = design_version + 1
		WHERE id = $1 AND shop_id = $2 AND design_version = $3 AND deleted IS NULL`, id, s.Shop, f.Version, doc)
}

// ReplaceDesign keeps a design that has nothing to do with the one before it,
// which is set aside.
func (s *Store) ReplaceDesign(ctx context.Context, id uuid.UUID, d design.Design, f From) error {
	doc, err := design.Of(d).Encode()
	if err != nil {
		return err
	}
	return s.once(ctx, f, func(tx *sqlx.Tx) error {
		if err := setAside(ctx, tx, id, ReadFrom); err != nil {
			return err
		}
		res, err := tx.ExecContext(ctx, `UPDATE job SET design = $4, design_version = design_version + 1
			WHERE id = $1 AND shop_id = $2 AND design_version = $3 AND deleted IS NULL`, id, s.Shop, f.Version, doc)
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, ErrChanged)
		}
		return tidy(ctx, tx, id)
	})
}

// WriteBrief keeps what the caster says of a master, if the job still has the version.
func (s *Store) WriteBrief(ctx context.Context, id uuid.UUID, b design.Brief, f From) error {
	doc, err := design.EncodeBrief(b)
	if err != nil {
		return err
	}
	return s.changeOne(ctx, f, `UPDATE job SET brief = $4, version = version + 1
		WHERE id = $1 AND shop_id = $2 AND version = $3 AND deleted IS NULL`, id, s.Shop, f.Version, doc)
}

// WriteTurn turns a job's master and gives it the design and the brief that
// go with it, if neither the job nor the design was changed meanwhile. What
// there was is set aside.
func (s *Store) WriteTurn(ctx context.Context, id uuid.UUID, m Master, d design.Design, b design.Brief, f From, designed int) error {
	master, err := json.Marshal(m)
	if err != nil {
		return err
	}
	doc, err := design.Of(d).Encode()
	if err != nil {
		return err
	}
	brief, err := design.EncodeBrief(b)
	if err != nil {
		return err
	}
	return s.once(ctx, f, func(tx *sqlx.Tx) error {
		if err := held(ctx, tx, s.Shop, id, f.Version); err != nil {
			return err
		}
		if err := setAside(ctx, tx, id, Turned); err != nil {
			return err
		}
		res, err := tx.ExecContext(ctx, `UPDATE job SET master = $3, design = $4, brief = $5,
			design_version = design_version + 1, version = version + 1
			WHERE id = $1 AND design_version = $2`, id, designed, master, doc, brief)
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return errors.Join(err, ErrChanged)
		}
		return tidy(ctx, tx, id)
	})
}
