package main

import (
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime/debug"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"copperlark/app"
	"copperlark/core/parallel"
	"copperlark/internal/postgres"
	"copperlark/server"
	"copperlark/store"
	"copperlark/web"
)

func startCommand() *cobra.Command {
	var s settings
	command := &cobra.Command{
		Use:   "start",
		Short: "Start the server, with a PostgreSQL of its own unless LARK_DATABASE_URL names one",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if err := s.read(os.LookupEnv); err != nil {
				return err
			}
			s.portGiven = c.Flags().Changed("port")
			return start(c.Context(), s)
		},
	}
	command.Flags().StringVar(&s.data, "data", "data", "folder of the program's own PostgreSQL")
	command.Flags().StringVar(&s.address, "address", "127.0.0.1", "address to listen on")
	command.Flags().IntVar(&s.port, "port", 8321, "port to listen on; without it the next free one when 8321 is taken")
	command.Flags().StringVar(&s.from, "from", "", "a backup to fill a new database from")
	command.Flags().BoolVar(&s.noDemo, "no-demo", false, "do not load the demo data")
	return command
}

// say tells whoever starts the program what it does; the address alone goes to standard
// output.
func say(words string, arguments ...any) { fmt.Fprintf(os.Stderr, "lark: "+words+"\n", arguments...) }

func start(ctx context.Context, s settings) error {
	log := slog.New(slog.NewJSONHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelWarn}))
	listener, err := s.listen() // before any work, so that a taken port is told at once
	if err != nil {
		return err
	}
	defer func() { _ = listener.Close() }()
	kept, a, closeAll, err := open(ctx, &s, true, log)
	if err != nil {
		return err
	}
	defer closeAll()
	var link string
	if !s.noDemo {
		owner, err := loadDemo(ctx, kept, a)
		if err != nil {
			return fmt.Errorf("loading the demo data: %w", err)
		}
		if link, err = a.SignInLink(ctx, owner); err != nil {
			return err
		}
	}
	path := "/"
	if link != "" {
		path = "/sign-in/" + link
	} else if link, err = a.FirstLink(ctx); err != nil {
		return err
	} else if link != "" {
		path = "/first/" + link
	}
	assets, err := fs.Sub(web.Dist, "dist")
	if err != nil {
		return err
	}
	if s.log {
		s.server.Requests = slog.New(slog.NewJSONHandler(os.Stderr, nil))
	}
	if len(s.server.Hosts) == 0 && isLoopback(s.address) {
		s.server.Hosts = []string{"localhost", "127.0.0.1", "::1", s.address}
	}
	routes, err := server.New(a, assets, s.server, log)
	if err != nil {
		return err
	}
	handler, err := routes.Handler()
	if err != nil {
		return err
	}
	failed := func(f *parallel.Fault) { log.Error("work beside the requests failed", "fault", f) }
	if s.metricsAddress != "" {
		measured, err := net.Listen("tcp", s.metricsAddress)
		if err != nil {
			return fmt.Errorf("LARK_METRICS_ADDRESS: %w", err)
		}
		defer func() { _ = measured.Close() }()
		mux := http.NewServeMux()
		mux.Handle("/metrics", routes.Metrics())
		parallel.Beside(func() { _ = (&http.Server{Handler: mux, ReadHeaderTimeout: 10 * time.Second}).Serve(measured) }, failed)
	}
	parallel.Beside(func() { again(ctx, time.Minute, "tidying up", a.Tidy, log) }, failed)
	parallel.Beside(func() { again(ctx, time.Hour, "sweeping tries", a.Sweep, log) }, failed)
	parallel.Beside(func() { again(ctx, askEvery, "asking for files that come again", a.AskOrigins, log) }, failed)
	parallel.Beside(func() { again(ctx, wordEvery, "wording charts", a.WordCharts, log) }, failed)
	parallel.Beside(func() { again(ctx, time.Hour, "writing letters about notes", a.PostNotes, log) }, failed)
	parallel.Beside(func() { again(ctx, hearAgain, "hearing of changed charts", a.Hear, log) }, failed)
	parallel.Beside(func() { again(ctx, deliverEvery, "calling other programs", a.Deliver, log) }, failed)
	scheme := "http"
	if s.certificate != "" {
		if listener, err = withTLS(listener, s.certificate, s.certificateKey); err != nil {
			return err
		}
		scheme = "https"
	}
	address := s.outside.Address
	if address == "" {
		address = scheme + "://" + listener.Addr().String()
	}
	fmt.Printf("Copper Lark is at %s%s\n", address, path)
	return serve(ctx, listener, handler, a.EndFollowing, s.stop, log)
}

// askEvery is how often it is looked whether files are to be asked for.
const askEvery = 20 * time.Second

// wordEvery is how often it is looked whether charts are found by other words now.
const wordEvery = 5 * time.Second

// deliverEvery is how often it is looked whether other programs are to be called.
const deliverEvery = 5 * time.Second

// hearAgain is how soon after the database was lost it is listened to again.
const hearAgain = time.Second

// again does work by the clock, until the program stops.
func again(ctx context.Context, every time.Duration, what string, work func(context.Context) error, log *slog.Logger) {
	for ctx.Err() == nil {
		if err := work(ctx); err != nil && ctx.Err() == nil {
			log.Warn(what, "error", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(every):
		}
	}
}

func isLoopback(address string) bool {
	ip := net.ParseIP(address)
	return address == "localhost" || ip != nil && ip.IsLoopback()
}

// listen takes the port that was asked for. The usual one gives way to one of the twenty
// after it when it is taken.
func (s *settings) listen() (net.Listener, error) {
	for try := s.port; ; try++ {
		listener, err := net.Listen("tcp", net.JoinHostPort(s.address, strconv.Itoa(try)))
		if err == nil || !errors.Is(err, syscall.EADDRINUSE) {
			return listener, err
		}
		if s.portGiven || try == s.port+20 {
			return nil, fmt.Errorf("port %d is taken: %w; choose another with --port", try, err)
		}
	}
}

// serve answers until the context is done; then it takes no more requests, and those that
// run have a time to finish; atEnd ends those that would go on for ever.
func serve(
	ctx context.Context,
	listener net.Listener,
	handler http.Handler,
	atEnd func(),
	stop time.Duration,
	log *slog.Logger,
) error {
	httpServer := &http.Server{
		Handler:           handler,
		ReadHeaderTimeout: 10 * time.Second,
		IdleTimeout:       2 * time.Minute,
		MaxHeaderBytes:    64 << 10,
		ErrorLog:          slog.NewLogLogger(log.Handler(), slog.LevelWarn),
	}
	httpServer.RegisterOnShutdown(atEnd)
	failed := make(chan error, 1)
	parallel.Beside(func() { failed <- httpServer.Serve(listener) }, func(f *parallel.Fault) { failed <- f })
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	ending, cancel := context.WithTimeout(context.WithoutCancel(ctx), stop)
	defer cancel()
	if err := httpServer.Shutdown(ending); err != nil {
		say("some requests did not finish within %v", stop)
		return httpServer.Close()
	}
	return nil
}

// open gives the storage and the program over the database that is named, or
// over the program's own: started when own is set, else the one that runs.
func open(ctx context.Context, s *settings, own bool, log *slog.Logger) (*store.Store, *app.App, func(), error) {
	stop := func() {}
	databaseURL := s.databaseURL
	if databaseURL == "" {
		cluster, release, err := ownCluster(s.data, own, s.databaseStop, log)
		if err != nil {
			return nil, nil, nil, err
		}
		stop = release
		databaseURL = cluster.URL("lark")
		s.limits.Room = freeRoom(s.data)
	}
	if s.from != "" {
		if err := restore(ctx, databaseURL, s.from); err != nil {
			stop()
			return nil, nil, nil, err
		}
	}
	if err := beforeChange(ctx, s, databaseURL); err != nil {
		stop()
		return nil, nil, nil, err
	}
	kept, err := store.Open(ctx, databaseURL)
	if err != nil {
		stop()
		return nil, nil, nil, away{err}
	}
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(30) // large tables come and go: less garbage beside them is worth a little time
	}
	if os.Getenv("GOMEMLIMIT") == "" && s.limits.MemoryBytes > 0 {
		debug.SetMemoryLimit(s.limits.MemoryBytes)
	}
	a := app.New(kept, s.limits, time.Now, log)
	a.Reach(s.outside)
	return kept, a, func() { kept.Close(); stop() }, nil
}

// ownCluster starts the cluster of the data folder, or attaches to the running
// one. Own makes one where there is none: a folder that was mistyped holds nothing, and says so. A lock keeps two programs
// from starting the same cluster.
func ownCluster(data string, own bool, patience time.Duration, log *slog.Logger) (*postgres.Cluster, func(), error) {
	folder := filepath.Join(data, "postgres")
	if _, err := os.Stat(filepath.Join(folder, "PG_VERSION")); err != nil && !own {
		return nil, nil, fmt.Errorf("there is no database in the folder %s: say with --data where it is; lark start makes one", data)
	}
	if err := os.MkdirAll(data, 0o755); err != nil {
		return nil, nil, err
	}
	lock, err := os.OpenFile(filepath.Join(data, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil, nil, err
	}
	locked := syscall.Flock(int(lock.Fd()), syscall.LOCK_EX|syscall.LOCK_NB) == nil
	secret, err := clusterSecret(filepath.Join(data, "secret"))
	if err != nil {
		return nil, nil, err
	}
	if !locked {
		_ = lock.Close()
		if own {
			return nil, nil, fmt.Errorf("another lark runs on the folder %s already", data)
		}
		if cluster := postgres.Attach(folder, secret); cluster != nil {
			return cluster, func() {}, nil
		}
		return nil, nil, errors.New("the running program's database does not answer")
	}
	if _, err := os.Stat(folder); errors.Is(err, os.ErrNotExist) {
		say("making a database in %s (some seconds)", folder)
	} else {
		say("starting the database in %s", folder)
	}
	cluster, err := postgres.Start(folder, secret, patience)
	if err == nil {
		if err = cluster.Prepare("lark"); err != nil {
			err = errors.Join(err, cluster.Stop())
		}
	}
	if err != nil {
		_ = lock.Close()
		return nil, nil, err
	}
	cluster.Watch(log)
	return cluster, func() {
		if err := cluster.Stop(); err != nil {
			fmt.Fprintln(os.Stderr, "lark: stopping the database:", err)
		}
		_ = lock.Close()
	}, nil
}

// clusterSecret is the password of the program's own database, made once.
func clusterSecret(file string) (string, error) {
	text, err := os.ReadFile(file)
	if err == nil {
		return strings.TrimSpace(string(text)), nil
	}
	if !errors.Is(err, os.ErrNotExist) {
		return "", err
	}
	raw := make([]byte, 24)
	_, _ = rand.Read(raw)
	secret := hex.EncodeToString(raw)
	return secret, writeWhole(file, []byte(secret+"\n"))
}

// writeWhole writes a file that is there whole or not at all, whenever the program ends.
func writeWhole(name string, content []byte) error {
	file, err := os.OpenFile(name+".new", os.O_CREATE|os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	_, err = file.Write(content)
	if err = errors.Join(err, file.Sync(), file.Close()); err != nil {
		return err
	}
	return os.Rename(name+".new", name)
}
