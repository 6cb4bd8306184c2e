package pg

import (
	"context"
	"database/sql"
	"fmt"
)

// CreateDatabase makes a database that the application owns, as a copy of
// template unless that is empty. One that is there stays as it is.
func (c *Cluster) CreateDatabase(ctx context.Context, name, template string) error {
	db, err := sql.Open("pgx", c.url(superuser, "postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	if err := c.applicationRole(ctx, db); err != nil {
		return err
	}
	owner, err := ownerOf(ctx, db, name)
	if err != nil || owner == application {
		return err
	}
	if owner != "" {
		return c.handOver(ctx, db, name)
	}
	statement := fmt.Sprintf("CREATE DATABASE %q OWNER %s", name, application)
	if template != "" {
		statement += fmt.Sprintf(" TEMPLATE %q", template)
	}
	_, err = db.ExecContext(ctx, statement)
	return err
}

// MakeDatabase makes a database and fills it, whole or not at all: it gets its
// name when fill is done. One that is there is left as it is.
func (c *Cluster) MakeDatabase(ctx context.Context, name string, fill func(url string) error) error {
	db, err := sql.Open("pgx", c.url(superuser, "postgres"))
	if err != nil {
		return err
	}
	defer db.Close()
	if owner, err := ownerOf(ctx, db, name); err != nil || owner != "" {
		if err == nil {
			err = c.CreateDatabase(ctx, name, "")
		}
		return err
	}
	making := name + "_making"
	if _, err := db.ExecContext(ctx, fmt.Sprintf("DROP DATABASE IF EXISTS %q WITH (FORCE)", making)); err != nil {
		return err
	}
	if err := c.CreateDatabase(ctx, making, ""); err != nil {
		return err
	}
	if err := fill(c.URL(making)); err != nil {
		return err
	}
	_, err = db.ExecContext(ctx, fmt.Sprintf("ALTER DATABASE %q RENAME TO %q", making, name))
	return err
}

func ownerOf(ctx context.Context, db *sql.DB, name string) (owner string, err error) {
	err = db.QueryRowContext(ctx, "SELECT coalesce((SELECT pg_get_userbyid(datdba) FROM pg_database WHERE datname = $1), '')", name).
		Scan(&owner)
	return owner, err
}

// applicationRole makes the role that the application works as.
func (c *Cluster) applicationRole(ctx context.Context, db *sql.DB) error {
	_, err := db.ExecContext(ctx, fmt.Sprintf(`DO $$ BEGIN
		IF NOT EXISTS (SELECT FROM pg_roles WHERE rolname = '%[1]s') THEN
			CREATE ROLE %[1]s LOGIN PASSWORD '%[2]s';
		END IF;
	EXCEPTION WHEN duplicate_object OR unique_violation THEN NULL; END $$`, application, password(c.secret, application)))
	return err
}

// handOver gives a database of an earlier Bathyform, which worked as the
// superuser, to the application.
func (c *Cluster) handOver(ctx context.Context, db *sql.DB, name string) error {
	inside, err := sql.Open("pgx", c.url(superuser, name))
	if err != nil {
		return err
	}
	defer inside.Close()
	if _, err := inside.ExecContext(ctx, fmt.Sprintf(`DO $$ DECLARE t record; BEGIN
		FOR t IN SELECT c.oid::regclass AS name FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
			WHERE n.nspname = 'public' AND c.relkind IN ('r', 'p', 'v', 'm') LOOP
			EXECUTE format('ALTER TABLE %%s OWNER TO %[1]s', t.name);
		END LOOP;
	END $$`, application)); err != nil {
		return fmt.Errorf("hand the records over to the application: %w", err)
	}
	_, err = db.ExecContext(ctx, fmt.Sprintf("ALTER DATABASE %q OWNER TO %s", name, application))
	return err
}
