package localdb

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
)

// Attach is how a second program of the same owner reaches the server that
// another Grapnel runs on a data folder: through the port that one wrote down. It
// reports an error where none answers there.
func Attach(dir string) (dsn string, err error) {
	dir, err = filepath.Abs(dir)
	if err != nil {
		return "", err
	}
	s := &Server{dir: dir}
	data, err := os.ReadFile(s.credentialsFile())
	if err != nil {
		return "", fmt.Errorf("data folder: %w", err)
	}
	if err := json.Unmarshal(data, &s.creds); err != nil {
		return "", fmt.Errorf("credentials of %s: %w", dir, err)
	}
	port, err := os.ReadFile(s.portFile())
	if err != nil {
		return "", fmt.Errorf("data folder: %w", err)
	}
	if s.port, err = strconv.Atoi(string(port)); err != nil {
		return "", fmt.Errorf("port of %s: %w", dir, err)
	}
	c := s.config(account, s.creds.App, database)
	db, err := open(c)
	if err != nil {
		return "", err
	}
	defer db.Close()
	if err := db.Ping(); err != nil {
		return "", fmt.Errorf("the running Grapnel's database: %w", err)
	}
	return c.FormatDSN(), nil
}
