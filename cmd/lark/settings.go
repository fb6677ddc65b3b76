package main

import (
	"bytes"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"time"

	"copperlark/app"
	"copperlark/internal/postgres"
	"copperlark/server"
)

// settings are what whoever runs the program says, by flags and by the environment.
type settings struct {
	data, address, databaseURL, metricsAddress string
	port                                       int
	portGiven, noDemo, log                     bool
	from                                       string // a backup that a new database is filled from
	stop, databaseStop                         time.Duration
	limits                                     app.Limits
	server                                     server.Config
}

// setting is one that stands in the environment.
type setting struct {
	name, meaning, otherwise string
	set                      func(s *settings, value string) error
}

// environment lists every setting; docs/operating.md has the same list, and a test holds
// that.
var environment = []setting{
	{
		"LARK_DATABASE_URL",
		"a PostgreSQL that you already have, in place of the program's own",
		"its own, in the data folder",
		func(s *settings, v string) error { s.databaseURL = v; return nil },
	},
	{
		"LARK_HOSTS",
		"names that the server is reached by, with commas; requests for others are refused",
		"localhost on loopback, else any",
		func(s *settings, v string) error {
			s.server.Hosts = strings.FieldsFunc(v, func(r rune) bool { return r == ',' || r == ' ' })
			return nil
		},
	},
	{
		"LARK_TLS",
		"1 behind a proxy that speaks TLS: HSTS, and cookies that are bound to this host and to TLS",
		"0",
		func(s *settings, v string) error { return asFlag(&s.server.TLS, v) },
	},
	{"LARK_PROXIES", "addresses of proxies whose X-Forwarded-For is believed, with commas", "none", func(s *settings, v string) error {
		s.server.Proxies = strings.FieldsFunc(v, func(r rune) bool { return r == ',' || r == ' ' })
		return nil
	}},
	{
		"LARK_MEMORY_MB",
		"the memory that the program means to live in: a third holds tables, a third is for work",
		"half of the machine's, at most 4096",
		func(s *settings, v string) error { return asMegabytes(&s.limits.MemoryBytes, v) },
	},
	{
		"LARK_WORK",
		"heavy work at once, in rows: a figure weighs 1 a row, an explanation 4; one person gets a half",
		"4,000,000 for each core, less where memory is short",
		func(s *settings, v string) error { return asCount(&s.limits.Work, v) },
	},
	{
		"LARK_WAIT_SECONDS",
		"how long heavy work waits for its turn before it is refused",
		"20",
		func(s *settings, v string) error { return asSeconds(&s.limits.Patience, v) },
	},
	{
		"LARK_MAX_FILE_MB",
		"the largest file that is read, unpacked",
		"1024",
		func(s *settings, v string) error { return asMegabytes(&s.limits.FileBytes, v) },
	},
	{"LARK_MAX_COLUMNS", "the most columns that a file may have", "2000", func(s *settings, v string) error {
		var n int64
		err := asCount(&n, v)
		s.limits.Columns = int(n)
		return err
	}},
	{
		"LARK_MAX_WAITING_MB",
		"unpacked files of one person that wait to be kept",
		"twice LARK_MAX_FILE_MB",
		func(s *settings, v string) error { return asMegabytes(&s.limits.WaitingSize, v) },
	},
	{"LARK_WAITING_MINUTES", "how long a file waits to be kept", "30", func(s *settings, v string) error {
		err := asSeconds(&s.limits.WaitingTime, v)
		s.limits.WaitingTime *= 60
		return err
	}},
	{
		"LARK_SPACE_MB",
		"what the datasets of a space may take, packed",
		"any size",
		func(s *settings, v string) error { return asMegabytes(&s.limits.SpaceBytes, v) },
	},
	{
		"LARK_SPACE_ROWS",
		"the rows of all versions in a space",
		"any number",
		func(s *settings, v string) error { return asCount(&s.limits.SpaceRows, v) },
	},
	{
		"LARK_LEAST_ROOM_MB",
		"room on the disk that writing leaves free for the database",
		"256",
		func(s *settings, v string) error { return asMegabytes(&s.limits.LeastRoom, v) },
	},
	{
		"LARK_SPOOL",
		"a folder for files while they arrive",
		"the system's temporary folder",
		func(s *settings, v string) error { s.limits.SpoolFolder = v; return nil },
	},
	{"LARK_READER_RATE", "requests a second that one address may ask of shared pages", "400", func(s *settings, v string) error {
		rate, err := strconv.ParseFloat(v, 64)
		if err == nil && !(rate > 0) {
			err = errors.New("must be above 0")
		}
		s.server.ReaderRate = rate
		return err
	}},
	{
		"LARK_LEAST_RATE",
		"bytes a second that a caller must send and take, after ten seconds of grace",
		"4096",
		func(s *settings, v string) error { return asCount(&s.server.LeastRate, v) },
	},
	{
		"LARK_STOP_SECONDS",
		"how long running requests have to finish when the program is told to stop",
		"30",
		func(s *settings, v string) error { return asSeconds(&s.stop, v) },
	},
	{
		"LARK_DATABASE_STOP_SECONDS",
		"how long the program's own database has to stop in order, before it is stopped at once",
		"20",
		func(s *settings, v string) error { return asSeconds(&s.databaseStop, v) },
	},
	{
		"LARK_LOG",
		"requests: a line of JSON for each request, on standard error; warnings: none",
		"requests, unless at a terminal",
		func(s *settings, v string) error {
			if v != "requests" && v != "warnings" {
				return errors.New("must be requests or warnings")
			}
			s.log = v == "requests"
			return nil
		},
	},
	{
		"LARK_METRICS_ADDRESS",
		"address and port where /metrics is answered to anybody, such as 127.0.0.1:9100",
		"nowhere",
		func(s *settings, v string) error { s.metricsAddress = v; return nil },
	},
	{
		"LARK_METRICS_TOKEN",
		"the bearer token that /metrics asks for at the program's own address",
		"not answered there",
		func(s *settings, v string) error { s.server.MetricsToken = v; return nil },
	},
}

// read reads the environment; a setting that cannot be read is an error that names it.
func (s *settings) read(lookup func(string) (string, bool)) error {
	s.stop, s.databaseStop = 30*time.Second, postgres.DefaultPatience
	if terminal, err := os.Stderr.Stat(); err == nil {
		s.log = terminal.Mode()&os.ModeCharDevice == 0
	}
	for _, one := range environment {
		if value, given := lookup(one.name); given && value != "" {
			if err := one.set(s, value); err != nil {
				return fmt.Errorf("%s is %q: %w (it says %s)", one.name, value, err, one.meaning)
			}
		}
	}
	if s.limits.MemoryBytes == 0 {
		s.limits.MemoryBytes = min(machineMemory()/2, 4<<30)
	}
	return nil
}

func asFlag(into *bool, value string) (err error) {
	*into, err = strconv.ParseBool(value)
	return err
}

func asCount(into *int64, value string) error {
	n, err := strconv.ParseInt(strings.ReplaceAll(value, ",", ""), 10, 64)
	if err == nil && (n <= 0 || n > 1<<50) {
		err = errors.New("must be a whole number above 0")
	}
	*into = n
	return err
}

func asMegabytes(into *int64, value string) error {
	err := asCount(into, value)
	if err == nil && *into > 1<<30 {
		err = errors.New("is more megabytes than there are")
	}
	*into <<= 20
	return err
}

func asSeconds(into *time.Duration, value string) error {
	var n int64
	err := asCount(&n, value)
	if err == nil && n > 1<<20 {
		err = errors.New("is too long")
	}
	*into = time.Duration(n) * time.Second
	return err
}

// machineMemory is the memory of the machine, or of the group of processes that the
// program belongs to where that has less.
func machineMemory() int64 {
	memory := int64(8 << 30)
	var info syscall.Sysinfo_t
	if syscall.Sysinfo(&info) == nil {
		memory = int64(info.Totalram) * int64(info.Unit)
	}
	if text, err := os.ReadFile("/sys/fs/cgroup/memory.max"); err == nil {
		if limit, err := strconv.ParseInt(string(bytes.TrimSpace(text)), 10, 64); err == nil {
			memory = min(memory, limit)
		}
	}
	return memory
}

// freeRoom gives the free bytes of the disk that a folder is on.
func freeRoom(folder string) func() (int64, error) {
	return func() (int64, error) {
		var stat syscall.Statfs_t
		if err := syscall.Statfs(filepath.Clean(folder), &stat); err != nil {
			return 0, err
		}
		return int64(stat.Bavail) * stat.Bsize, nil
	}
}
