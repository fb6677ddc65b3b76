package app

import (
	"runtime"
	"time"

	"copperlark/core/reader"
)

// Limits are settings of whoever runs the program; what is zero has its default.
type Limits struct {
	FileBytes   int64         // of one unpacked file
	Columns     int           // of one file
	MemoryBytes int64         // that the program means to live in
	Work        int64         // weight of the heavy work that is done at once, see weights
	Patience    time.Duration // how long heavy work waits to be begun
	Queue       int           // how much heavy work of one person waits
	WaitingTime time.Duration // how long a file waits to be kept
	WaitingSize int64         // bytes of the files of one person that wait
	SpaceBytes  int64         // that a space may keep, packed; 0: any number
	SpaceRows   int64         // rows of all versions in a space; 0: any number
	LeastRoom   int64         // bytes of the disk that writing leaves free
	Room        func() (free int64, err error)
	SpoolFolder string // where files stand while they arrive; "": the system's
	SignIns     int    // passwords that are checked at once
}

// The limits that are no settings.
const (
	MaxStepsADay   = 2000 // that one person keeps
	MaxUploads     = 8    // of one person that arrive at once
	mostCandidates = 60   // columns that are tried as explanations, or correlated
)

// cacheShare is the part of the memory that what can be made again may fill; the rest is
// for work, for files that arrive and for garbage.
const cacheShare = 3

// Weights of heavy work, for each row of its table: about 128 bytes of memory, or two
// nanoseconds of a core, each. Work lighter than lightWork is not weighed at all.
const (
	weighFigure  = 1
	weighPicture = 1
	weighFit     = 1 // and more for each fit that is no straight line
	weighExplain = 4
	weighPrepare = 2
	weighSummary = 2
	weighPairs   = 8
	weighView    = 1
	weighLoad    = 1
	lightWork    = 20_000
	bytesAWeight = 128
	bytesAValue  = 8 // of a table
	workPerCore  = 4_000_000
	fileAWeight  = 64 // bytes of a file that is read
	// Of a drawing: so many pixels weigh nothing, and those beyond them as much together as a row.
	lightPixels, pixelsAWeight = 1 << 20, 4
)

func (l Limits) withDefaults() Limits {
	setDefault(&l.FileBytes, reader.DefaultMaxBytes)
	setDefault(&l.Columns, reader.DefaultMaxColumns)
	setDefault(&l.MemoryBytes, 4<<30)
	setDefault(&l.Work, min(workPerCore*int64(runtime.GOMAXPROCS(0)), l.MemoryBytes/cacheShare/bytesAWeight))
	setDefault(&l.Patience, 20*time.Second)
	setDefault(&l.Queue, 60)
	setDefault(&l.WaitingTime, 30*time.Minute)
	setDefault(&l.WaitingSize, 2*l.FileBytes)
	setDefault(&l.LeastRoom, 256<<20)
	setDefault(&l.SignIns, runtime.GOMAXPROCS(0))
	if l.Room == nil {
		l.Room = func() (int64, error) { return 1 << 62, nil }
	}
	return l
}

func setDefault[T comparable](setting *T, value T) {
	var zero T
	if *setting == zero {
		*setting = value
	}
}
