// Package postgres runs a PostgreSQL of the program's own: it makes a cluster
// in a folder, starts it on a free loopback port and stops it again. PostgreSQL
// refuses to run as root; there it runs as the user postgres.
package postgres

import (
	"bytes"
	"errors"
	"fmt"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"sort"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// Cluster is a running PostgreSQL.
type Cluster struct {
	folder, programs string
	port             int
	credential       *syscall.Credential
	secret           string
}

// Start makes the cluster in folder when there is none and starts it. Extra
// settings are given as name=value.
func Start(folder, secret string, settings ...string) (*Cluster, error) {
	programs, err := findPrograms()
	if err != nil {
		return nil, err
	}
	folder, err = filepath.Abs(folder)
	if err != nil {
		return nil, err
	}
	c := &Cluster{folder: folder, programs: programs, secret: secret}
	if err := c.prepareFolder(); err != nil {
		return nil, err
	}
	if _, err := os.Stat(filepath.Join(folder, "PG_VERSION")); errors.Is(err, os.ErrNotExist) {
		if err := c.initialise(); err != nil {
			return nil, err
		}
	} else {
		// A server that was killed left its files; one that still runs is stopped first.
		_ = c.run("pg_ctl", "stop", "-D", folder, "-m", "fast", "-w", "-t", "20")
	}
	if c.port, err = freePort(); err != nil {
		return nil, err
	}
	options := fmt.Sprintf("-c listen_addresses=127.0.0.1 -c port=%d -c unix_socket_directories=''", c.port)
	for _, setting := range settings {
		options += " -c " + setting
	}
	if err := c.run("pg_ctl", "start", "-D", folder, "-w", "-t", "60", "-l", filepath.Join(folder, "server.log"), "-o", options); err != nil {
		log, _ := os.ReadFile(filepath.Join(folder, "server.log"))
		return nil, fmt.Errorf("PostgreSQL does not start: %w\n%s", err, lastLines(log, 12))
	}
	return c, nil
}

// Attach gives the cluster that another process runs in the folder, or nil.
func Attach(folder, secret string) *Cluster {
	folder, err := filepath.Abs(folder)
	if err != nil {
		return nil
	}
	file, err := os.ReadFile(filepath.Join(folder, "postmaster.pid"))
	lines := strings.Split(string(file), "\n")
	if err != nil || len(lines) < 4 {
		return nil
	}
	port, err := strconv.Atoi(strings.TrimSpace(lines[3]))
	if err != nil {
		return nil
	}
	connection, err := net.DialTimeout("tcp", net.JoinHostPort("127.0.0.1", strconv.Itoa(port)), time.Second)
	if err != nil {
		return nil
	}
	_ = connection.Close()
	return &Cluster{folder: folder, port: port, secret: secret}
}

// URL is the address of the named database for pgx.
func (c *Cluster) URL(database string) string {
	u := url.URL{Scheme: "postgres", User: url.UserPassword("lark", c.secret), Host: net.JoinHostPort("127.0.0.1", strconv.Itoa(c.port)), Path: database,
		RawQuery: "sslmode=disable"}
	return u.String()
}

// CreateDatabase makes a database of the given name unless it is there.
func (c *Cluster) CreateDatabase(name string) error {
	err := c.run("createdb", "-h", "127.0.0.1", "-p", strconv.Itoa(c.port), "-U", "lark", name)
	if err != nil && strings.Contains(err.Error(), "already exists") {
		return nil
	}
	return err
}

// Stop stops the server and waits for it.
func (c *Cluster) Stop() error {
	return c.run("pg_ctl", "stop", "-D", c.folder, "-m", "fast", "-w", "-t", "30")
}

func findPrograms() (string, error) {
	candidates, _ := filepath.Glob("/usr/lib/postgresql/*/bin/pg_ctl")
	sort.Slice(candidates, func(i, j int) bool { return versionOf(candidates[i]) > versionOf(candidates[j]) })
	if len(candidates) > 0 {
		return filepath.Dir(candidates[0]), nil
	}
	if found, err := exec.LookPath("pg_ctl"); err == nil {
		return filepath.Dir(found), nil
	}
	return "", errors.New("PostgreSQL is not installed: run make start, or apt-get install postgresql, or set LARK_DATABASE_URL")
}

func versionOf(path string) int {
	version, _ := strconv.Atoi(filepath.Base(filepath.Dir(filepath.Dir(path))))
	return version
}

// prepareFolder makes the folder, and gives it to the user postgres when root.
func (c *Cluster) prepareFolder() error {
	if err := os.MkdirAll(c.folder, 0o700); err != nil {
		return err
	}
	if os.Geteuid() != 0 {
		return nil
	}
	account, err := user.Lookup("postgres")
	if err != nil {
		return fmt.Errorf("PostgreSQL does not run as root and there is no user postgres: %w", err)
	}
	uid, _ := strconv.Atoi(account.Uid)
	gid, _ := strconv.Atoi(account.Gid)
	c.credential = &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}
	if err := os.Chown(c.folder, uid, gid); err != nil {
		return err
	}
	if err := c.command("/bin/sh", "-c", "cd "+quoted(c.folder)).Run(); err != nil {
		return fmt.Errorf("the user postgres cannot reach %s: put the project into a folder that every user may enter", c.folder)
	}
	return nil
}

func quoted(path string) string { return "'" + strings.ReplaceAll(path, "'", `'\''`) + "'" }

func (c *Cluster) initialise() error {
	secretFile, err := os.CreateTemp("", "lark-secret-*")
	if err != nil {
		return err
	}
	defer func() { _ = os.Remove(secretFile.Name()) }()
	if _, err := secretFile.WriteString(c.secret + "\n"); err != nil {
		return err
	}
	if c.credential != nil {
		_ = secretFile.Chown(int(c.credential.Uid), int(c.credential.Gid))
	}
	if err := secretFile.Close(); err != nil {
		return err
	}
	return c.run("initdb", "-D", c.folder, "-U", "lark", "-A", "scram-sha-256", "--pwfile", secretFile.Name(), "-E", "UTF8", "--locale", "C.UTF-8", "-N")
}

func (c *Cluster) command(name string, arguments ...string) *exec.Cmd {
	command := exec.Command(name, arguments...)
	command.Dir = "/"
	command.Env = append(os.Environ(), "LC_ALL=C.UTF-8", "PGPASSWORD="+c.secret)
	// Ctrl-C at the terminal is for the program, which stops the database itself.
	command.SysProcAttr = &syscall.SysProcAttr{Credential: c.credential, Setpgid: true}
	return command
}

func (c *Cluster) run(name string, arguments ...string) error {
	var output bytes.Buffer
	command := c.command(filepath.Join(c.programs, name), arguments...)
	command.Stdout, command.Stderr = &output, &output
	// pg_ctl leaves a server behind that keeps the pipes: do not wait for them.
	command.WaitDelay = time.Second
	if err := command.Run(); err != nil && !errors.Is(err, exec.ErrWaitDelay) {
		return fmt.Errorf("%s: %w: %s", name, err, lastLines(output.Bytes(), 6))
	}
	return nil
}

func lastLines(text []byte, count int) string {
	lines := strings.Split(strings.TrimSpace(string(text)), "\n")
	return strings.Join(lines[max(0, len(lines)-count):], "\n")
}

func freePort() (int, error) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer func() { _ = listener.Close() }()
	return listener.Addr().(*net.TCPAddr).Port, nil
}
