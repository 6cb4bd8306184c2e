package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"bathyform/core/session"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
)

// Session is work at the bench.
type Session struct {
	ID     uuid.UUID
	JobID  *uuid.UUID `db:"job_id"`
	Kind   string
	Lesson string
	Begun  time.Time
	Ended  *time.Time
	Doc    []byte       `db:"plan"`
	Plan   session.Plan `db:"-"`
	Events []session.Event
}

// At is where it stands at a time.
func (s Session) At(now time.Time) session.State { return session.Play(s.Plan, s.Events, Seconds(now)) }

// Seconds is a time as sessions count it.
func Seconds(t time.Time) float64 { return float64(t.UnixMicro()) / 1e6 }

// Moment is the time that a session means.
func Moment(seconds float64) time.Time { return time.UnixMicro(int64(seconds * 1e6)) }

// Errors of sessions.
var (
	ErrInUse = errors.New("a mould stands in another session already")
	ErrEnded = errors.New("the session is over")
)

// BeginSession keeps a session that begins. Its moulds must be in use, and in no
// other session; one that was begun already under its ID stays as it is.
func (s *Store) BeginSession(ctx context.Context, b Session, moulds []uuid.UUID) error {
	doc, err := json.Marshal(b.Plan)
	if err != nil {
		return fmt.Errorf("keep the plan of a session: %w", err)
	}
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		res, err := tx.ExecContext(ctx, `INSERT INTO session (id, shop_id, job_id, kind, lesson, plan, begun)
			VALUES ($1, $2, $3, $4, $5, $6, $7) ON CONFLICT (id) DO NOTHING`, b.ID, s.Shop, b.JobID, b.Kind, b.Lesson, doc, b.Begun)
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return err
		}
		for _, id := range moulds {
			m, err := s.counting(ctx, tx, id)
			if err != nil {
				return err
			}
			if m.Retired != nil {
				return ErrRetired
			}
			if _, err := tx.ExecContext(ctx, `INSERT INTO session_mould (session_id, mould_id) VALUES ($1, $2)`, b.ID, id); err != nil {
				if errors.Is(taken(err), ErrTaken) {
					return ErrInUse
				}
				return err
			}
		}
		return nil
	})
}

const selectSessions = `SELECT id, job_id, kind, lesson, begun, ended, plan FROM session WHERE shop_id = $1`

// Session is one with all that has happened in it.
func (s *Store) Session(ctx context.Context, id uuid.UUID) (Session, error) {
	var out Session
	err := s.db.GetContext(ctx, &out, selectSessions+` AND id = $2`, s.Shop, id)
	if errors.Is(err, sql.ErrNoRows) {
		return out, ErrNotFound
	}
	if err != nil {
		return out, err
	}
	return out, out.read(ctx, s.db)
}

// OpenSessions are those that are not over, the oldest first.
func (s *Store) OpenSessions(ctx context.Context) ([]Session, error) {
	return s.sessions(ctx, selectSessions+` AND ended IS NULL ORDER BY begun`)
}

// LatestSessions are those that are over, the latest first.
func (s *Store) LatestSessions(ctx context.Context, limit int) ([]Session, error) {
	return s.sessions(ctx, selectSessions+fmt.Sprintf(` AND ended IS NOT NULL ORDER BY ended DESC LIMIT %d`, limit))
}

func (s *Store) sessions(ctx context.Context, query string) ([]Session, error) {
	var out []Session
	if err := s.db.SelectContext(ctx, &out, query, s.Shop); err != nil {
		return nil, err
	}
	for i := range out {
		if err := out[i].read(ctx, s.db); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// read reads the plan of a session and what has happened.
func (b *Session) read(ctx context.Context, from sqlx.QueryerContext) error {
	if err := json.Unmarshal(b.Doc, &b.Plan); err != nil {
		return fmt.Errorf("read the plan of a session: %w", err)
	}
	b.Doc = nil
	var rows []struct {
		At   time.Time
		What []byte
	}
	if err := sqlx.SelectContext(ctx, from, &rows, `SELECT at, what FROM session_event WHERE session_id = $1 ORDER BY number`,
		b.ID); err != nil {
		return err
	}
	b.Events = make([]session.Event, len(rows))
	for i, r := range rows {
		if err := json.Unmarshal(r.What, &b.Events[i]); err != nil {
			return fmt.Errorf("read what happened in a session: %w", err)
		}
		b.Events[i].At = Seconds(r.At)
	}
	return nil
}

// Happened keeps what happens in a session, if it fits where that stands: in one
// go with reading it, so that of two who do a step one is the first. What was sent
// under the same key before, or is no news, is kept once. It gives the session as
// it is then. A clock that was set back does not turn time back.
func (s *Store) Happened(ctx context.Context, id uuid.UUID, e session.Event, key uuid.UUID, now time.Time) (Session, error) {
	var out Session
	err := s.inTx(ctx, func(tx *sqlx.Tx) error {
		err := tx.GetContext(ctx, &out, selectSessions+` AND id = $2 FOR NO KEY UPDATE`, s.Shop, id)
		if errors.Is(err, sql.ErrNoRows) {
			return ErrNotFound
		}
		if err != nil {
			return err
		}
		if err := out.read(ctx, tx); err != nil {
			return err
		}
		if key != uuid.Nil {
			var sent bool
			if err := tx.GetContext(ctx, &sent, `SELECT EXISTS (SELECT FROM session_event WHERE key = $1)`, key); err != nil || sent {
				return err
			}
		}
		e.At = Seconds(now)
		if n := len(out.Events); n > 0 {
			e.At = max(e.At, out.Events[n-1].At)
		}
		news, err := out.At(Moment(e.At)).Take(e)
		if err != nil || !news {
			return err
		}
		doc, err := json.Marshal(e)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO session_event (session_id, number, at, key, what) VALUES ($1, $2, $3, $4, $5)`,
			id, len(out.Events), Moment(e.At), nilID(key), doc); err != nil {
			return err
		}
		out.Events = append(out.Events, e)
		return nil
	})
	return out, err
}

func nilID(id uuid.UUID) *uuid.UUID {
	if id == uuid.Nil {
		return nil
	}
	return &id
}

// Made is what a session leaves: pulls for the log, moulds for the rack, what it took
// out of the stock and what was measured in it.
type Made struct {
	Pulls    []Pull
	Moulds   []Mould
	Moves    []Move
	Measured []Measured
}

// EndSession closes a session that is over, with what it made, all of it or nothing. Closed already, it stays as it is.
func (s *Store) EndSession(ctx context.Context, b Session, now time.Time, left Made) error {
	return s.inTx(ctx, func(tx *sqlx.Tx) error {
		res, err := tx.ExecContext(ctx, `UPDATE session SET ended = $3 WHERE id = $1 AND shop_id = $2 AND ended IS NULL`, b.ID, s.Shop, now)
		if err != nil {
			return err
		}
		if n, err := res.RowsAffected(); err != nil || n == 0 {
			return err
		}
		if _, err := tx.ExecContext(ctx, `UPDATE session_mould SET open = false WHERE session_id = $1`, b.ID); err != nil {
			return err
		}
		for _, m := range left.Moulds {
			m.SessionID = &b.ID
			if _, err := tx.ExecContext(ctx, insertMould, s.values(m)...); err != nil {
				return taken(err)
			}
		}
		for _, p := range left.Pulls {
			m, err := s.counting(ctx, tx, p.MouldID)
			if err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, `INSERT INTO pull (id, mould_id, pulled, mass_a, mass_b, notes, session_id, conditions, resin)
				VALUES ($1, $2, $3, $4, $5, $6, $7, $8, (`+chosenResin+`WHERE mould.id = $2))`,
				p.ID, p.MouldID, p.Pulled, p.MassA, p.MassB, p.Notes, b.ID, p.Conditions); err != nil {
				return err
			}
			if err := addResults(ctx, tx, p, m); err != nil {
				return err
			}
		}
		for _, m := range left.Moves {
			m.SessionID = &b.ID
			if err := s.addMove(ctx, tx, m); err != nil {
				return err
			}
		}
		for _, m := range left.Measured {
			m.SessionID = &b.ID
			if err := s.addMeasured(ctx, tx, m); err != nil {
				return err
			}
		}
		return nil
	})
}
