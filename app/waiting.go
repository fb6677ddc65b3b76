package app

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"syscall"

	"copperlark/core/parallel"
	"copperlark/core/reader"
	"copperlark/core/table"
	"copperlark/files"
)

// arrivals counts what of each person's files is arriving, beside what already waits.
type arrivals struct {
	mutex  sync.Mutex
	people map[int64]*arriving
}

type arriving struct {
	files int
	bytes int64
}

func (r *arrivals) change(personID int64, files int, bytes int64) arriving {
	r.mutex.Lock()
	defer r.mutex.Unlock()
	one := r.people[personID]
	if one == nil {
		one = &arriving{}
		r.people[personID] = one
	}
	one.files += files
	one.bytes += bytes
	if one.files == 0 {
		delete(r.people, personID)
	}
	return *one
}

// waitingTable is what a waiting file was read into; it can be read again.
type waitingTable struct {
	table  *table.Table
	report *reader.Report
}

type waitingKey struct{ key, options string }

// held is what the table of a waiting file is held by: the same file can be read otherwise.
func (f *WaitingFile) held(key string) waitingKey {
	options, _ := json.Marshal(f.Options) // numbers and texts alone
	return waitingKey{key, string(options)}
}

// ReadFile reads a file for a preview; it waits to be kept. The file goes to disk as it
// arrives, unpacked, and from there to storage, where any server finds it.
func (a *App) ReadFile(ctx context.Context, person Person, name string, content io.Reader) (*Preview, error) {
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return nil, err
	}
	spool, err := a.receive(ctx, person, content)
	if err != nil {
		return nil, err
	}
	defer func() { _ = spool.Close() }()
	size, err := spool.Seek(0, io.SeekCurrent)
	if err != nil {
		return nil, err
	}
	key, hash := newToken()
	file := WaitingFile{KeyHash: hash, SpaceID: person.SpaceID, PersonID: person.ID, Name: cleanFileName(name), Bytes: size}
	if err := a.roomFor(ctx, person.SpaceID, size/2, 0); err != nil {
		return nil, err
	}
	var read waitingTable
	var both parallel.Group // what is read is also kept, at the same time
	kept, stop := context.WithCancel(ctx)
	defer stop()
	both.Go(func() error {
		err := a.store.AddWaiting(kept, file, io.NewSectionReader(spool, 0, size))
		if errors.Is(err, context.Canceled) && ctx.Err() == nil {
			return nil // the reading says why
		}
		return err
	})
	read, err = a.readSpool(ctx, file, spool, size)
	if err != nil {
		stop()
	}
	keeping := both.Wait()
	if err = errors.Join(err, keeping); err != nil {
		if keeping == nil {
			_ = a.store.DropWaiting(context.WithoutCancel(ctx), person.SpaceID, hash) // nothing is left behind
		}
		return nil, err
	}
	a.held.Put(file.held(key), read, tableBytes(read.table))
	return preview(ctx, key, file, read)
}

// receive writes a file to disk as it arrives; gzip is unpacked. The spool has no name:
// tooLarge refuses a file that is larger than one may be.
func (a *App) tooLarge() *Invalid {
	return &Invalid{
		Message: fmt.Sprintf("the file is larger than %d MB, the limit for one file", a.limits.FileBytes>>20),
		Advice:  "split the file, or ask whoever runs this server to raise LARK_MAX_FILE_MB",
	}
}

// it goes with whoever holds it. Its place is the end.
func (a *App) receive(ctx context.Context, person Person, content io.Reader) (*os.File, error) {
	waits, err := a.store.WaitingUse(ctx, person.ID)
	if err != nil {
		return nil, err
	}
	if a.arrived.change(person.ID, 1, 0).files > MaxUploads {
		a.arrived.change(person.ID, -1, 0)
		return nil, &Full{fmt.Sprintf("%d files are arriving already", MaxUploads), "wait until one is there, or stop one"}
	}
	taken := int64(0)
	defer func() { a.arrived.change(person.ID, -1, -taken) }()
	spool, err := a.newSpool()
	if err != nil {
		return nil, err
	}
	take := func(n int64) error {
		taken += n
		switch here := a.arrived.change(person.ID, 0, n); {
		case taken > a.limits.FileBytes:
			return a.tooLarge()
		case here.bytes+waits > a.limits.WaitingSize:
			return &Full{
				fmt.Sprintf("files of yours that unpack to %s wait to be kept", inBytes(waits+here.bytes-taken)),
				"keep or discard one, and send this one again",
			}
		}
		return ctx.Err()
	}
	if err := spooled(spool, content, take); err != nil {
		return nil, errors.Join(err, spool.Close())
	}
	return spool, nil
}

func (a *App) newSpool() (*os.File, error) {
	spool, err := os.CreateTemp(a.limits.SpoolFolder, "lark-file-*")
	if err != nil {
		return nil, fullDisk(err)
	}
	return spool, os.Remove(spool.Name())
}

// spooled copies content, unpacking gzip, a stretch at a time, each of which is taken
// before it is written.
func spooled(into io.Writer, content io.Reader, take func(n int64) error) error {
	arrived := &counting{Reader: content}
	source := bufio.NewReaderSize(arrived, 1<<16)
	begin, _ := source.Peek(2)
	var from io.Reader = source
	packed := bytes.Equal(begin, []byte{0x1f, 0x8b})
	if packed {
		unpacking, err := gzip.NewReader(source)
		if err != nil {
			return damagedGzip(err)
		}
		from = unpacking
	}
	stretch := make([]byte, 1<<18)
	unpacked, first := int64(0), true
	var again bool // what is packed is packed itself
	for {
		n, err := from.Read(stretch)
		if n > 0 {
			unpacked += int64(n)
			again, first = first && packed && files.IsPacked(stretch[:n]) || again, false
			if packed &&
				(unpacked > files.Allowance(arrived.bytes, math.MaxInt64) || again && unpacked > packedFree+packedTimes*arrived.bytes) {
				return tooPacked(files.TooPacked(arrived.bytes, math.MaxInt64))
			}
			if err := take(int64(n)); err != nil {
				return err
			}
			if _, err := into.Write(stretch[:n]); err != nil {
				return fullDisk(err)
			}
		}
		switch {
		case err == nil:
		case errors.Is(err, io.EOF):
			return nil
		case packed && (errors.Is(err, gzip.ErrChecksum) || errors.Is(err, gzip.ErrHeader) || errors.Is(err, io.ErrUnexpectedEOF) ||
			strings.Contains(err.Error(), "flate:")):
			return damagedGzip(err)
		default:
			return fmt.Errorf("%w: %w", ErrBroken, err)
		}
	}
}

// What is packed already becomes hardly smaller when it is packed once more: at most so many times, beside
// so much. A file of which more is saved in this way means harm.
const packedTimes, packedFree = 4, 1 << 20

func tooPacked(err error) error {
	var refused *reader.Error
	if errors.As(err, &refused) {
		return &Invalid{Message: refused.Problem, Advice: refused.Advice}
	}
	return err
}

// counting counts the bytes that are read.
type counting struct {
	io.Reader
	bytes int64
}

func (c *counting) Read(into []byte) (int, error) {
	n, err := c.Reader.Read(into)
	c.bytes += int64(n)
	return n, err
}

// ErrBroken is an upload that did not arrive whole.
var ErrBroken = errors.New("the file did not arrive whole")

func damagedGzip(err error) error {
	return &Invalid{Message: "the gzip file is damaged: " + err.Error(), Advice: "pack it again, or upload it unpacked"}
}

func fullDisk(err error) error {
	if errors.Is(err, syscall.ENOSPC) || errors.Is(err, syscall.EDQUOT) {
		return errors.Join(ErrNoRoom, err)
	}
	return err
}

// readSpool reads the table of a file that stands on disk. A text is read where it
// stands; other formats keep pieces of what they read, so they are read from memory.
func (a *App) readSpool(ctx context.Context, file WaitingFile, spool *os.File, size int64) (read waitingTable, err error) {
	ctx, leave, err := a.begin(ctx, fmt.Sprintf("reading a file of %s", inBytes(size)), size/fileAWeight)
	if err != nil {
		return read, err
	}
	defer leave()
	var raw []byte
	if size > 0 {
		if raw, err = syscall.Mmap(int(spool.Fd()), 0, int(size), syscall.PROT_READ, syscall.MAP_PRIVATE); err != nil {
			return read, fmt.Errorf("looking at the file: %w", err)
		}
		mapped := raw
		defer func() { _ = syscall.Munmap(mapped) }()
		if !files.IsText(raw) {
			raw = bytes.Clone(raw)
		}
	}
	options := file.Options
	options.MaxBytes, options.MaxColumns = a.limits.FileBytes, a.limits.Columns
	read.table, read.report, err = files.Read(ctx, strings.TrimSuffix(file.Name, ".gz"), raw, options)
	var refused *reader.Error
	if errors.As(err, &refused) {
		return read, &Invalid{Message: refused.Error(), Advice: refused.Advice}
	}
	return read, err
}

// waiting gives a waiting file with its table: held, or read again.
func (a *App) waiting(
	ctx context.Context,
	spaceID int64,
	key string,
	again func(*WaitingFile),
) (file WaitingFile, read waitingTable, err error) {
	if file, err = a.store.Waiting(ctx, spaceID, tokenHash(key)); err != nil {
		return file, read, err
	}
	again(&file)
	if held, is := a.held.Get(file.held(key)); is {
		return file, held.(waitingTable), nil
	}
	spool, err := a.newSpool()
	if err != nil {
		return file, read, err
	}
	defer func() { _ = spool.Close() }()
	if err := a.store.WaitingContent(ctx, file, spool); err != nil {
		return file, read, fullDisk(err)
	}
	if read, err = a.readSpool(ctx, file, spool, file.Bytes); err == nil {
		a.held.Put(file.held(key), read, tableBytes(read.table))
	}
	return file, read, err
}

// ReadAgain reads a waiting file with other options.
func (a *App) ReadAgain(ctx context.Context, spaceID int64, key string, options reader.Options) (*Preview, error) {
	file, read, err := a.waiting(ctx, spaceID, key, func(f *WaitingFile) { f.Options = options })
	if err != nil {
		return nil, err
	}
	if err := a.store.ReadWaitingWith(ctx, file); err != nil {
		return nil, err
	}
	return preview(ctx, key, file, read)
}

// Keep stores a waiting file as a dataset.
func (a *App) Keep(ctx context.Context, person Person, key, name string) (Dataset, error) {
	file, read, err := a.waiting(ctx, person.SpaceID, key, func(*WaitingFile) {})
	if err != nil {
		return Dataset{}, err
	}
	if name = strings.TrimSpace(name); name == "" {
		name = NameOfFile(file.Name)
	}
	dataset, err := a.AddTable(
		ctx,
		NewDataset{
			SpaceID:  person.SpaceID,
			PersonID: person.ID,
			Name:     name,
			About:    read.report.About,
			FileName: file.Name,
			Table:    read.table,
			Report:   read.report,
			Reading:  file.Options,
		},
	)
	if err != nil {
		return Dataset{}, err
	}
	a.hold(dataset.VersionID, read.table)
	return dataset, a.forget(context.WithoutCancel(ctx), person.SpaceID, key)
}

// Discard forgets a waiting file.
func (a *App) Discard(ctx context.Context, spaceID int64, key string) error {
	if _, err := a.store.Waiting(ctx, spaceID, tokenHash(key)); err != nil {
		return err
	}
	return a.forget(ctx, spaceID, key)
}

func (a *App) forget(ctx context.Context, spaceID int64, key string) error {
	a.held.Drop(func(held any) bool { one, is := held.(waitingKey); return is && one.key == key })
	if err := a.store.DropWaiting(ctx, spaceID, tokenHash(key)); err != nil && !errors.Is(err, ErrNotFound) {
		return err
	}
	return nil
}

// cleanFileName keeps the last part of a path, printable and of bounded length.
func cleanFileName(name string) string {
	name = filepath.Base(strings.ReplaceAll(strings.ToValidUTF8(name, ""), `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if r < ' ' || r == 0x7f {
			return -1
		}
		return r
	}, name)
	if runes := []rune(name); len(runes) > 200 {
		name = string(runes[:200])
	}
	if name == "" || name == "." || name == "/" {
		return "table"
	}
	return name
}
