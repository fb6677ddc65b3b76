// Package postgres runs a PostgreSQL of the program's own: it makes a cluster in a folder,
// starts it on a free loopback port, brings it back when it dies, and stops it again.
// PostgreSQL refuses to run as root; there it runs as the user postgres.
//
// The cluster belongs to the role lark, which may do everything; the program itself works
// as the role program, which owns its database and nothing else (see Prepare).
package postgres

import (
	"bytes"
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/url"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"runtime"
	"sort"
	"strconv"
	"strings"
	"syscall"
	"time"

	"copperlark/core/parallel"
)

// Cluster is a running PostgreSQL.
type Cluster struct {
	folder, programs string
	port             int
	credential       *syscall.Credential
	secret           string
	settings         []string
	throwaway        bool          // nothing of it needs to last
	patience         time.Duration // that it has to end in order

	stopping context.CancelFunc // of the watch
	watching parallel.Group
}

// owner is the role that the cluster belongs to; role is the one that the program has.
const (
	owner = "lark"
	role  = "program"
)

// Start makes the cluster in folder when there is none and starts it. Extra
// settings are given as name=value.
func Start(folder, secret string, patience time.Duration, settings ...string) (*Cluster, error) {
	c, err := at(folder, secret)
	if err != nil {
		return nil, err
	}
	c.settings, c.patience = settings, patience
	return c, c.begin()
}

func at(folder, secret string) (*Cluster, error) {
	programs, err := findPrograms()
	if err != nil {
		return nil, err
	}
	folder, err = filepath.Abs(folder)
	if err != nil {
		return nil, err
	}
	return &Cluster{folder: folder, programs: programs, secret: secret, patience: DefaultPatience}, nil
}

func (c *Cluster) begin() error {
	if err := c.prepareFolder(filepath.Dir(c.folder), false); err != nil {
		return err
	}
	if _, err := os.Stat(filepath.Join(c.folder, "PG_VERSION")); errors.Is(err, os.ErrNotExist) {
		if err := c.initialise(); err != nil {
			return err
		}
	} else if err := c.end(); err != nil { // one that outlived its program
		return err
	}
	var err error
	if c.port, err = freePort(); err != nil {
		return err
	}
	return c.launch()
}

// launch starts the server on the port that the cluster has.
func (c *Cluster) launch() error {
	if c.postmaster() == 0 { // what it says is long gone, and its number may be a stranger's by now
		if err := os.Remove(filepath.Join(c.folder, "postmaster.pid")); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	options := fmt.Sprintf("-c listen_addresses=127.0.0.1 -c port=%d -c unix_socket_directories=''", c.port)
	for _, setting := range c.settings {
		options += " -c " + setting
	}
	for try := 0; ; try++ {
		err := c.run("pg_ctl", "start", "-D", c.folder, "-w", "-t", "60", "-l", filepath.Join(c.folder, "server.log"), "-o", options)
		if err == nil {
			return nil
		}
		log, _ := os.ReadFile(filepath.Join(c.folder, "server.log"))
		said := lastLines(log, 12)
		if try == lastTry || !strings.Contains(said, "shared memory block") {
			return fmt.Errorf("PostgreSQL does not start: %w\n%s", err, said)
		}
		time.Sleep(againAfter) // the children of one that was killed are still ending
	}
}

// lastTry is how often a start is tried again while children of the last postmaster are ending.
const lastTry = 10

// postmaster gives the number of the process that serves the folder, or 0: the number in
// postmaster.pid, when it is a process that stands in the folder, as PostgreSQL does, and
// no stranger that was given the number since.
func (c *Cluster) postmaster() int {
	file, err := os.ReadFile(filepath.Join(c.folder, "postmaster.pid"))
	if err != nil {
		return 0
	}
	line, _, _ := strings.Cut(string(file), "\n")
	pid, err := strconv.Atoi(strings.TrimSpace(line))
	if err != nil || pid <= 1 {
		return 0
	}
	stands, err := os.Readlink(fmt.Sprintf("/proc/%d/cwd", pid)) // none of one that ended and was not waited for
	if real, realErr := filepath.EvalSymlinks(c.folder); err != nil || realErr != nil || stands != real {
		return 0
	}
	return pid
}

// The pace of the watch.
const (
	lookEvery  = 250 * time.Millisecond
	againAfter = 500 * time.Millisecond
)

// Watch brings the server back, on its port, whenever it dies.
func (c *Cluster) Watch(log *slog.Logger) {
	ctx, stop := context.WithCancel(context.Background())
	c.stopping = stop
	c.watching.Go(func() error {
		for wait := lookEvery; ; {
			select {
			case <-ctx.Done():
				return nil
			case <-time.After(wait):
			}
			if wait = lookEvery; c.postmaster() != 0 {
				continue
			}
			log.Error("the database died; it is started again")
			if err := c.launch(); err != nil { // its last children may still be ending
				log.Warn("the database does not start yet", "error", err)
				wait = againAfter
			} else {
				log.Warn("the database is back")
			}
		}
	})
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
	programs, _ := findPrograms()
	as, _ := credential()
	return &Cluster{folder: folder, port: port, secret: secret, programs: programs, credential: as, patience: DefaultPatience}
}

// URL is the address of the named database, as the program's role.
func (c *Cluster) URL(database string) string { return c.url(role, c.programSecret(), database) }

func (c *Cluster) url(as, secret, database string) string {
	u := url.URL{
		Scheme:   "postgres",
		User:     url.UserPassword(as, secret),
		Host:     net.JoinHostPort("127.0.0.1", strconv.Itoa(c.port)),
		Path:     database,
		RawQuery: "sslmode=disable",
	}
	return u.String()
}

// programSecret is the password of the program's role; it follows from the cluster's.
func (c *Cluster) programSecret() string {
	sum := hmac.New(sha256.New, []byte(c.secret))
	_, _ = sum.Write([]byte(role))
	return hex.EncodeToString(sum.Sum(nil)[:24])
}

// Prepare makes the program's role and its database, unless they are there. What an
// earlier program made as the owner of the cluster is given to the role.
func (c *Cluster) Prepare(database string) error {
	if err := c.sql("postgres", fmt.Sprintf(`do $$ begin
		if not exists (select from pg_roles where rolname = '%[1]s') then create role %[1]s login nosuperuser nocreatedb nocreaterole; end if; end $$;
		alter role %[1]s password '%[2]s' connection limit 90`, role, c.programSecret())); err != nil {
		return err
	}
	if err := c.CreateDatabase(database); err != nil {
		return err
	}
	return c.sql(database, fmt.Sprintf(`alter schema public owner to %[1]s;
		do $$ declare one record; begin
			for one in select c.oid::regclass as name, case c.relkind when 'S' then 'sequence' else 'table' end as kind from pg_class c
				where c.relnamespace = 'public'::regnamespace and c.relkind in ('r', 'S') and c.relowner <> '%[1]s'::regrole
				and not exists (select from pg_depend d where d.objid = c.oid and d.deptype = 'i') loop
				execute format('alter %%s %%s owner to %[1]s', one.kind, one.name);
			end loop; end $$`, role))
}

// CreateDatabase makes a database of the program's role unless it is there.
func (c *Cluster) CreateDatabase(name string) error {
	err := c.run("createdb", "-h", "127.0.0.1", "-p", strconv.Itoa(c.port), "-U", owner, "-O", role, name)
	if err != nil && strings.Contains(err.Error(), "already exists") {
		return c.sql("postgres", fmt.Sprintf(`alter database "%s" owner to %s`, name, role))
	}
	return err
}

func (c *Cluster) sql(database, statements string) error {
	command := c.command(
		filepath.Join(c.programs, "psql"),
		"-h",
		"127.0.0.1",
		"-p",
		strconv.Itoa(c.port),
		"-U",
		owner,
		"-d",
		database,
		"-q",
		"-X",
		"-v",
		"ON_ERROR_STOP=1",
		"-1",
		"-f",
		"-",
	)
	command.Stdin = strings.NewReader(statements) // not as an argument, which others can read
	return c.done("psql", command)
}

// Stop stops the server and waits for it.
func (c *Cluster) Stop() error {
	if c.stopping != nil {
		c.stopping()
		_ = c.watching.Wait() // it gives no error
	}
	return c.end()
}

// DefaultPatience is how long a postmaster may take to end in order.
const DefaultPatience = 20 * time.Second

// killTries is how often a postmaster is killed, a tenth of a second after each other.
const killTries = 100

// end ends the postmaster of the folder, where one runs: in order; or at once, as after a crash, where it hangs,
// which it can do when it is told to stop while one of its own children has just died; or, where that is of no
// use either, by the system. What was committed stands in its log in any case.
func (c *Cluster) end() error {
	var err error
	for _, mode := range []string{"fast", "immediate"} {
		if c.postmaster() == 0 {
			return nil
		}
		if err = c.run("pg_ctl", "stop", "-D", c.folder, "-m", mode, "-w", "-t", strconv.Itoa(max(1, int(c.patience.Seconds())))); err == nil {
			return nil
		}
	}
	for range killTries {
		pid := c.postmaster()
		if pid == 0 {
			return nil
		}
		if killed := syscall.Kill(pid, syscall.SIGKILL); killed != nil && !errors.Is(killed, syscall.ESRCH) {
			return errors.Join(err, killed)
		}
		time.Sleep(100 * time.Millisecond)
	}
	return err
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

// prepareFolder sees that the user postgres can reach a folder when root; make makes it
// that user's.
func (c *Cluster) prepareFolder(folder string, make bool) error {
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return err
	}
	var err error
	if c.credential, err = credential(); err != nil || c.credential == nil {
		return err
	}
	if make {
		if err := os.Chown(folder, int(c.credential.Uid), int(c.credential.Gid)); err != nil {
			return err
		}
	}
	if err := c.command("/bin/sh", "-c", "cd "+quoted(folder)).Run(); err != nil {
		return fmt.Errorf("the user postgres cannot reach %s: put the project into a folder that every user may enter", folder)
	}
	return nil
}

// credential is the user that PostgreSQL runs as: nil for whoever runs the program, but
// postgres for root.
func credential() (*syscall.Credential, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	account, err := user.Lookup("postgres")
	if err != nil {
		return nil, fmt.Errorf("PostgreSQL does not run as root and there is no user postgres: %w", err)
	}
	uid, _ := strconv.Atoi(account.Uid)
	gid, _ := strconv.Atoi(account.Gid)
	return &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}, nil
}

func quoted(path string) string { return "'" + strings.ReplaceAll(path, "'", `'\''`) + "'" }

// initialise makes the cluster beside its folder and moves it there when all of it is on
// disk: killed at any moment, the next start begins anew or finds it whole.
func (c *Cluster) initialise() error {
	// A folder of its own for each try: what a try that was killed left behind may still be written to.
	made, err := os.MkdirTemp(filepath.Dir(c.folder), filepath.Base(c.folder)+".new-")
	if err != nil {
		return err
	}
	secretFile := made + ".secret"
	clean := func() {
		left, _ := filepath.Glob(c.folder + ".new*")
		for _, one := range append(left, c.folder+".secret") {
			_ = os.RemoveAll(one) // what cannot be taken away now is at the next start
		}
	}
	defer clean()
	if err := os.Remove(c.folder); err != nil && !errors.Is(err, os.ErrNotExist) {
		return fmt.Errorf("%s holds something and no database: move it away, or choose another data folder", c.folder)
	}
	if err := c.prepareFolder(made, true); err != nil {
		return err
	}
	if err := os.WriteFile(secretFile, []byte(c.secret+"\n"), 0o600); err != nil {
		return err
	}
	if c.credential != nil {
		if err := os.Chown(secretFile, int(c.credential.Uid), int(c.credential.Gid)); err != nil {
			return err
		}
	}
	arguments := []string{
		"-D",
		made,
		"-U",
		owner,
		"-A",
		"scram-sha-256",
		"--pwfile",
		secretFile,
		"-E",
		"UTF8",
		"--locale",
		"C.UTF-8",
		"--data-checksums",
	}
	if c.throwaway {
		arguments = append(arguments, "-N")
	}
	if err := c.dying("initdb", arguments...); err != nil {
		return err
	}
	if err := os.Rename(made, c.folder); err != nil {
		return err
	}
	return synced(filepath.Dir(c.folder))
}

// synced waits until a folder's entries are on disk.
func synced(folder string) error {
	file, err := os.Open(folder)
	if err != nil {
		return err
	}
	return errors.Join(file.Sync(), file.Close())
}

func (c *Cluster) command(name string, arguments ...string) *exec.Cmd {
	command := exec.Command(name, arguments...)
	command.Dir = "/"
	command.Env = append(os.Environ(), "LC_ALL=C.UTF-8", "PGPASSWORD="+c.secret)
	// Ctrl-C at the terminal is for the program, which stops the database itself.
	command.SysProcAttr = &syscall.SysProcAttr{Credential: c.credential, Setpgid: true}
	return command
}

// dying runs a program that ends with this one, whenever that is killed.
func (c *Cluster) dying(name string, arguments ...string) error {
	command := c.command(filepath.Join(c.programs, name), arguments...)
	command.SysProcAttr.Pdeathsig = syscall.SIGKILL
	runtime.LockOSThread() // the signal comes with the end of the thread that began it
	defer runtime.UnlockOSThread()
	return c.done(name, command)
}

func (c *Cluster) run(name string, arguments ...string) error {
	return c.done(name, c.command(filepath.Join(c.programs, name), arguments...))
}

func (c *Cluster) done(name string, command *exec.Cmd) error {
	var output bytes.Buffer
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
