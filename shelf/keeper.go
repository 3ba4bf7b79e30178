// Package shelf is everything a maker owns or could buy: finding it, hanging it
// on a wheel, its lots and stock, bringing it in, photos and the colour reader.
// It knows no plan and draws nothing.
package shelf

import (
	"bufio"
	"context"
	"fmt"
	"image"
	"io"
	"sync"

	lru "github.com/hashicorp/golang-lru/v2"

	"lampfern/exchange"
	"lampfern/store"
)

// Errors that callers tell apart; everything else that is not a words.Refusal is
// a fault of the program or the machine.
var (
	ErrNotFound = store.ErrNotFound
	ErrConflict = store.ErrConflict // somebody else saved since the maker's page was made
)

// What is told of a data folder and of its backups.
type (
	Report = store.Report
	Backup = store.Backup
	Loose  = store.Loose

	// Trouble is an error of the disk.
	Trouble = store.Trouble
)

// How much is held in memory at once.
const (
	photosKept  = 4
	reliefsKept = 6
)

// Keeper keeps the shelf of one data folder and may be used from many
// goroutines.
type Keeper struct {
	Store         *store.Store
	ReaderAddress string                             // of a colour reader; empty when there is none
	StartReader   func() (address string, err error) // starts a simulated reader; nil where there is none to start
	Passing       bool                               // the data folder is thrown away at closing
	Version       string                             // of the program, as the page of the workroom says it
	PricesAddress string                             // of a seller's price list; empty when there is none
	Mail          exchange.MailServer

	photos  *lru.Cache[string, *Photo]
	reliefs *lru.Cache[bareKey, *image.Gray]

	mu    sync.Mutex
	shelf *Shelf        // as it was last read or written
	stood string        // address of a simulated reader that was started meanwhile
	jobs  map[uint]*job // imports under way, by upload
}

// New returns the keeper of a data folder.
func New(s *store.Store) *Keeper {
	return &Keeper{Store: s, photos: Cache[string, *Photo](photosKept), reliefs: Cache[bareKey, *image.Gray](reliefsKept),
		jobs: map[uint]*job{}}
}

// Cache is a cache of n things that lets go of the one not used for longest. n
// must be positive.
func Cache[K comparable, V any](n int) *lru.Cache[K, V] {
	c, err := lru.New[K, V](n)
	if err != nil {
		panic(err) // only for n < 1, which is a fault of the program
	}
	return c
}

// Salvage saves what can be read of a damaged data folder into another, as store.Salvage does,
// when it is its turn.
func (s *Keeper) Salvage(ctx context.Context, from, to string) (r Report, err error) {
	err = Heavy(ctx, func(ctx context.Context) error {
		r, err = store.Salvage(ctx, from, to)
		return err
	})
	return r, err
}

// SealedTail ends the name of a sealed backup.
const SealedTail = store.SealedTail

// Seal encrypts what is written to what it returns, as store.Seal does, when it is its turn; begin is called
// before the first byte goes out.
func (s *Keeper) Seal(ctx context.Context, to io.Writer, passphrase string, begin func()) (sealed io.WriteCloser, err error) {
	err = Heavy(ctx, func(context.Context) error {
		sealed, err = store.Seal(&begun{w: to, begin: begin}, passphrase)
		return err
	})
	return sealed, err
}

// begun calls begin before the first byte.
type begun struct {
	w     io.Writer
	begin func()
}

func (b *begun) Write(p []byte) (int, error) {
	if b.begin != nil {
		b.begin()
		b.begin = nil
	}
	return b.w.Write(p)
}

// sealedHead is how many bytes begin a sealed backup, before what it holds.
const sealedHead = 256

// AddBackup keeps a backup from elsewhere, as store.AddBackup does; where it is sealed, it is opened with a
// passphrase when it is its turn.
func (s *Keeper) AddBackup(ctx context.Context, from io.Reader, passphrase string) (b Backup, r Report, err error) {
	head := bufio.NewReader(from)
	_, _ = head.Peek(sealedHead) // a sender that is slow holds nobody up; what is wrong is found where it is read
	err = Heavy(ctx, func(context.Context) error {
		from, err = store.Unsealed(head, passphrase)
		return err
	})
	if err != nil {
		return b, r, err
	}
	return s.Store.AddBackup(ctx, from)
}

// Check reports whether the data can be read.
func (s *Keeper) Check(ctx context.Context) error {
	_, err := s.Store.Read(ctx).ShelfVersion()
	return err
}

// Shelf returns the shelf as it is now.
func (s *Keeper) Shelf(ctx context.Context) (*Shelf, error) { return s.Within(s.Store.Read(ctx)) }

// Within is the shelf as a transaction sees it; the remembered one is used when
// it is of the same version.
func (s *Keeper) Within(tx store.Tx) (*Shelf, error) {
	version, err := tx.ShelfVersion()
	if err != nil {
		return nil, fmt.Errorf("reading the shelf: %w", err)
	}
	s.mu.Lock()
	kept := s.shelf
	s.mu.Unlock()
	if kept != nil && kept.version == version {
		return kept, nil
	}
	rows, err := tx.Materials()
	if err != nil {
		return nil, fmt.Errorf("reading the shelf: %w", err)
	}
	sh := newShelf(version, rows)
	s.remember(sh)
	return sh, nil
}

// remember keeps a shelf as the newest one, unless a newer one is kept.
func (s *Keeper) remember(sh *Shelf) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.shelf == nil || s.shelf.version < sh.version {
		s.shelf = sh
	}
}
