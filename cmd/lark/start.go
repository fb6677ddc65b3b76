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

// settings come from the environment; flags say the rest.
type settings struct {
	data        string
	address     string
	port        int
	noDemo      bool
	databaseURL string
}

func startCommand() *cobra.Command {
	s := settings{databaseURL: os.Getenv("LARK_DATABASE_URL")}
	command := &cobra.Command{
		Use:   "start",
		Short: "Start the server, with a PostgreSQL of its own unless LARK_DATABASE_URL names one",
		Args:  cobra.NoArgs,
		RunE:  func(c *cobra.Command, _ []string) error { return start(c.Context(), s) },
	}
	command.Flags().StringVar(&s.data, "data", "data", "folder of the program's own PostgreSQL")
	command.Flags().StringVar(&s.address, "address", "127.0.0.1", "address to listen on")
	command.Flags().IntVar(&s.port, "port", 8321, "port to listen on; the next free one when it is taken")
	command.Flags().BoolVar(&s.noDemo, "no-demo", false, "do not load the demo data")
	return command
}

func start(ctx context.Context, s settings) error {
	log := slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelWarn}))
	kept, a, closeAll, err := open(ctx, s.databaseURL, s.data, true, log)
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
		if link, err = a.SignInLink(ctx, owner.ID); err != nil {
			return err
		}
	}
	assets, err := fs.Sub(web.Dist, "dist")
	if err != nil {
		return err
	}
	secure := os.Getenv("LARK_SECURE_COOKIES") == "1"
	routes, err := server.New(a, assets, secure, log)
	if err != nil {
		return err
	}
	handler, err := routes.Handler()
	if err != nil {
		return err
	}
	listener, err := listen(s.address, s.port)
	if err != nil {
		return err
	}
	path := "/"
	if link != "" {
		path = "/sign-in/" + link
	}
	fmt.Printf("Copper Lark is at http://%s%s\n", listener.Addr(), path)
	return serve(ctx, listener, handler, log)
}

// listen takes the port, or one of the twenty after it.
func listen(address string, port int) (net.Listener, error) {
	for try := port; ; try++ {
		listener, err := net.Listen("tcp", net.JoinHostPort(address, strconv.Itoa(try)))
		if err == nil || port == 0 || try == port+20 || !errors.Is(err, syscall.EADDRINUSE) {
			return listener, err
		}
	}
}

func serve(ctx context.Context, listener net.Listener, handler http.Handler, log *slog.Logger) error {
	httpServer := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, IdleTimeout: 2 * time.Minute, ErrorLog: slog.NewLogLogger(log.Handler(), slog.LevelWarn)}
	failed := make(chan error, 1)
	parallel.Beside(func() { failed <- httpServer.Serve(listener) }, func(f *parallel.Fault) { failed <- f })
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	ending, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	if err := httpServer.Shutdown(ending); err != nil {
		return httpServer.Close()
	}
	return nil
}

// open gives the storage and the program over the database that is named, or
// over the program's own: started when own is set, else the one that runs.
func open(ctx context.Context, databaseURL, data string, own bool, log *slog.Logger) (*store.Store, *app.App, func(), error) {
	stop := func() {}
	if databaseURL == "" {
		cluster, release, err := ownCluster(data, own)
		if err != nil {
			return nil, nil, nil, err
		}
		stop = release
		if err := cluster.CreateDatabase("lark"); err != nil && own {
			release()
			return nil, nil, nil, err
		}
		databaseURL = cluster.URL("lark")
	}
	kept, err := store.Open(ctx, databaseURL)
	if err != nil {
		stop()
		return nil, nil, nil, err
	}
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(30) // large tables come and go: less garbage beside them is worth a little time
	}
	limits := app.Limits{}
	if megabytes, err := strconv.Atoi(os.Getenv("LARK_MAX_FILE_MB")); err == nil && megabytes > 0 {
		limits.FileBytes = int64(megabytes) << 20
	}
	if columns, err := strconv.Atoi(os.Getenv("LARK_MAX_COLUMNS")); err == nil && columns > 0 {
		limits.Columns = columns
	}
	return kept, app.New(kept, limits, time.Now, log), func() { kept.Close(); stop() }, nil
}

// ownCluster starts the cluster of the data folder, or attaches to the running
// one. A lock keeps two programs from starting the same cluster.
func ownCluster(data string, own bool) (*postgres.Cluster, func(), error) {
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
	folder := filepath.Join(data, "postgres")
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
	cluster, err := postgres.Start(folder, secret)
	if err != nil {
		_ = lock.Close()
		return nil, nil, err
	}
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
	return secret, os.WriteFile(file, []byte(secret+"\n"), 0o600)
}
