package backup_test

import (
	"archive/zip"
	"bytes"
	"compress/flate"
	"context"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"testing"
	"time"

	"grapnel/app/backup"
	"grapnel/app/localdb/dbtest"
)

// TestKey prints a key and reads it back however it was written down; a slip of the pen is found.
// No source: it is how the program is to behave.
func TestKey(t *testing.T) {
	path := filepath.Join(t.TempDir(), "key")
	key, err := backup.OpenKey(path)
	must(t, err)
	again, err := backup.OpenKey(path)
	must(t, err)
	if info, err := os.Stat(path); err != nil || info.Mode().Perm() != 0o600 || again != key {
		t.Errorf("%v %v %v", info.Mode(), err, again == key)
	}
	for _, text := range []string{key.String(), strings.ToLower(key.String()), strings.ReplaceAll(key.String(), "-", "  ") + "\n", strings.ReplaceAll(key.String(), "O", "0")} {
		if read, err := backup.ParseKey(text); err != nil || read != key {
			t.Errorf("%q: %v", text, err)
		}
	}
	text := []byte(strings.ReplaceAll(key.String(), "-", ""))
	for i := range text {
		wrong := bytes.Clone(text)
		if wrong[i]++; wrong[i] > 'Z' || wrong[i] == '8' {
			wrong[i] = 'A'
		}
		if _, err := backup.ParseKey(string(wrong)); err == nil && !bytes.Equal(wrong, text) {
			t.Errorf("%s is taken for %s", wrong, text)
		}
	}
	if strings.Contains(key.String(), key.ID()) {
		t.Error("its name gives it away")
	}
	if err := key.Keep(path); !errors.Is(err, fs.ErrExist) {
		t.Errorf("over a key: %v", err)
	}
}

// TestSeal seals a backup with one shop's key: any change of one bit of it, anywhere, is found out,
// another's key is asked for by its name, and an old backup says that it is not sealed.
// No source: it is how the program is to behave.
func TestSeal(t *testing.T) {
	source, _ := demoSource(t)
	made, err := source.Make(t.Context(), now, backup.Daily)
	must(t, err)
	other, err := backup.OpenKey(filepath.Join(t.TempDir(), "other"))
	must(t, err)
	if key, err := backup.CheckSeal(made.Path, []backup.Key{other, source.Key}); err != nil || key != source.Key {
		t.Errorf("%v", err)
	}
	var asks backup.OtherKey
	if _, err := backup.CheckSeal(made.Path, []backup.Key{other}); !errors.As(err, &asks) || asks.ID != source.Key.ID() {
		t.Errorf("%v", err)
	}
	body, err := os.ReadFile(made.Path)
	must(t, err)
	path := filepath.Join(t.TempDir(), "changed.zip")
	for at := 0; at < len(body); at += 1 + len(body)/300 {
		changed := bytes.Clone(body)
		changed[at] ^= 1
		must(t, os.WriteFile(path, changed, 0o600))
		if _, err := backup.CheckSeal(path, []backup.Key{source.Key}); err == nil {
			t.Errorf("byte %d changed, and it is taken", at)
		}
	}
	plain := rewritten(t, made.Path, func(_ string, body []byte) []byte { return body })
	for _, body := range [][]byte{plain, body[:len(body)-1], {}} {
		must(t, os.WriteFile(path, body, 0o600))
		if _, err := backup.CheckSeal(path, []backup.Key{source.Key}); !errors.Is(err, backup.ErrUnsealed) {
			t.Errorf("%d bytes: %v", len(body), err)
		}
	}
}

// TestHostileStatements puts lines into a backup that would run a program, read a file of the
// machine, reach for another database or do anything but make tables and rows: none is taken, and
// nothing of it has been run.
// No source: forms of attack on a program that MariaDB's client reads, from its documentation.
func TestHostileStatements(t *testing.T) {
	source, _ := demoSource(t)
	made, err := source.Make(t.Context(), now, backup.Daily)
	must(t, err)
	proof := filepath.Join(t.TempDir(), "proof")
	for _, line := range []string{
		`\! touch ` + proof, `system touch ` + proof, `source /etc/passwd`, `\. /etc/passwd`, `tee ` + proof, `pager touch ` + proof, `edit`, `use mysql`, `delimiter //`,
		`LOAD DATA LOCAL INFILE '/etc/passwd' INTO TABLE shop;`, `SELECT * FROM person INTO OUTFILE '` + proof + `';`, `DROP TABLE shop;`, `GRANT ALL ON *.* TO x;`,
		"INSERT INTO `mysql`.`global_priv` (`Host`) VALUES ('%');", "INSERT INTO `shop` (`name`) VALUES (LOAD_FILE('/etc/passwd'));", "INSERT INTO `shop` (`name`) SELECT 1;",
		"INSERT INTO `shop` (`name`) VALUES ('a'); DROP TABLE shop;", "INSERT INTO `shop` (`name`) VALUES ('a",
		"/*!40101 SET GLOBAL general_log_file='" + proof + "' */;", "/*!50003 CREATE TRIGGER x BEFORE INSERT ON shop FOR EACH ROW SET NEW.name='' */;", "/*!40101 SET @OLD_X=@@SQL_MODE, PASSWORD=PASSWORD('x') */;",
		"CREATE TABLE `x` (`a` int) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_general_ci;",
		"CREATE TABLE `x` (\n  `a` int(11) NOT NULL\n) ENGINE=CONNECT DEFAULT CHARSET=utf8mb4 table_type=CSV file_name='/etc/passwd';",
		"CREATE TABLE `x` (\n  `a` text GENERATED ALWAYS AS (load_file('/etc/passwd')) STORED\n) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_general_ci;",
		"CREATE TABLE `x` (\n  `a` int(11) NOT NULL\n) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_general_ci DATA DIRECTORY='/tmp';",
		"CREATE TABLE `x` (\n  `a` int(11) NOT NULL",
	} {
		body := rewritten(t, made.Path, func(name string, body []byte) []byte {
			if name == "database.sql" {
				return bytes.Replace(body, []byte("\n--\n-- Table"), []byte("\n"+line+"\n--\n-- Table"), 1)
			}
			return body
		})
		path := filepath.Join(t.TempDir(), "hostile.zip")
		must(t, os.WriteFile(path, body, 0o600))
		dsn := dbtest.DSN(t)
		if _, err := (backup.Place{DSN: dsn}).Restore(t.Context(), path); !errors.Is(err, backup.ErrBroken) || !strings.Contains(err.Error(), "nothing that a backup") {
			t.Errorf("%s: %v", line, err)
		}
	}
	if _, err := os.Stat(proof); !errors.Is(err, fs.ErrNotExist) {
		t.Errorf("a program was run: %v", err)
	}
}

// TestBombs reads files that are small and unpack to more than any machine has: each is refused
// before it fills the memory or the disk.
// No source: a form of attack on whatever unpacks.
func TestBombs(t *testing.T) {
	zeros := make([]byte, 1<<20)
	bomb := func(name string, megabytes int, also map[string]string) string {
		var out bytes.Buffer
		w := zip.NewWriter(&out)
		for part, text := range also {
			into, err := w.Create(part)
			must(t, err)
			_, err = into.Write([]byte(text))
			must(t, err)
		}
		into, err := w.Create(name)
		must(t, err)
		for range megabytes {
			_, err := into.Write(zeros)
			must(t, err)
		}
		must(t, w.Close())
		path := filepath.Join(t.TempDir(), "bomb.zip")
		must(t, os.WriteFile(path, out.Bytes(), 0o600))
		return path
	}
	var many bytes.Buffer
	w := zip.NewWriter(&many)
	for n := range 20000 {
		_, err := w.Create(fmt.Sprint(n))
		must(t, err)
	}
	must(t, w.Close())
	parts := filepath.Join(t.TempDir(), "parts.zip")
	must(t, os.WriteFile(parts, many.Bytes(), 0o600))
	for what, path := range map[string]string{
		"its list":       bomb("manifest.json", 300, nil),
		"its statements": bomb("database.sql", 300, map[string]string{"manifest.json": "{}"}),
		"a lie":          lying(t),
		"many parts":     parts,
	} {
		var err error
		took := allocated(func() { _, err = backup.Read(path) })
		if !errors.Is(err, backup.ErrBroken) {
			t.Errorf("%s: %v", what, err)
		}
		if took > 64<<20 {
			t.Errorf("%s takes %d MB", what, took>>20)
		}
	}
}

// lying is a zip whose statements are more than it says.
func lying(t *testing.T) string {
	t.Helper()
	var packed, out bytes.Buffer
	deflate, err := flate.NewWriter(&packed, flate.BestCompression)
	must(t, err)
	for range 200 {
		_, err := deflate.Write(make([]byte, 1<<20))
		must(t, err)
	}
	must(t, deflate.Close())
	w := zip.NewWriter(&out)
	into, err := w.Create("manifest.json")
	must(t, err)
	_, err = into.Write([]byte("{}"))
	must(t, err)
	raw, err := w.CreateRaw(&zip.FileHeader{Name: "database.sql", Method: zip.Deflate, CompressedSize64: uint64(packed.Len()), UncompressedSize64: 100})
	must(t, err)
	_, err = raw.Write(packed.Bytes())
	must(t, err)
	must(t, w.Close())
	path := filepath.Join(t.TempDir(), "lying.zip")
	must(t, os.WriteFile(path, out.Bytes(), 0o600))
	return path
}

// allocated is how much memory something takes in all, in bytes.
func allocated(do func()) uint64 {
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	do()
	runtime.ReadMemStats(&after)
	return after.TotalAlloc - before.TotalAlloc
}

// TestHungDatabase backs up from a database that takes the call and says nothing: it is given up,
// and says so.
// No source: it is how the program is to behave.
func TestHungDatabase(t *testing.T) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	must(t, err)
	defer listener.Close()
	source, _ := demoSource(t)
	source.DSN, source.Quiet = fmt.Sprintf("grapnel:x@tcp(%s)/grapnel", listener.Addr()), 100*time.Millisecond
	ctx, end := context.WithTimeout(t.Context(), time.Minute)
	defer end()
	run := source.Tried(ctx, now, backup.Daily)
	if run.Trouble == "" || ctx.Err() != nil {
		t.Errorf("%+v %v", run, ctx.Err())
	}
}
