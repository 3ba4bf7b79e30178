// Package standin holds small simulated devices and services that take the
// place of real ones, so that everything can be tried and tested on one
// machine. They know nothing of the rest of the program.
package standin

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"
)

// Reader is a simulated hand-held colour reader. It speaks the line protocol of
// docs/reader.md: one command a line, one answer a line. Colours are CIELAB
// relative to D50, 2°.
type Reader struct {
	mu         sync.Mutex
	random     *rand.Rand
	laid       [3]float64 // what lies under it; the white tile at first
	calibrated int        // readings left before the tile is wanted again
	taken      int
}

// How the simulated reader behaves.
const (
	readerName     = "FERN-SIM 1"
	noiseL         = 0.12 // standard deviation of one reading
	noiseAB        = 0.18
	readingsAtOnce = 60 // before the white tile is wanted again
	refusesEvery   = 9  // one reading in so many says it was moved
	idleLimit      = 10 * time.Minute
)

// whiteTile is what lies under the reader until something else is laid there.
var whiteTile = [3]float64{96.5, -0.3, 1.1}

// NewReader returns a reader whose noise follows from the seed.
func NewReader(seed uint64) *Reader {
	return &Reader{random: rand.New(rand.NewPCG(seed, seed)), laid: whiteTile}
}

// Serve answers on a listener until the context ends, and returns when every talk has ended.
func (r *Reader) Serve(ctx context.Context, l net.Listener) error {
	var talks sync.WaitGroup
	defer talks.Wait()
	stop := context.AfterFunc(ctx, func() { l.Close() })
	defer stop()
	for {
		c, err := l.Accept()
		if err != nil {
			if ctx.Err() != nil || errors.Is(err, net.ErrClosed) {
				return nil
			}
			return fmt.Errorf("the simulated reader stopped listening: %w", err)
		}
		talks.Go(func() { r.talk(ctx, c) })
	}
}

func (r *Reader) talk(ctx context.Context, c net.Conn) {
	defer c.Close()
	stop := context.AfterFunc(ctx, func() { c.Close() })
	defer stop()
	in := bufio.NewScanner(c)
	for c.SetDeadline(time.Now().Add(idleLimit)) == nil && in.Scan() {
		if _, err := fmt.Fprintln(c, r.answer(strings.Fields(in.Text()))); err != nil {
			return
		}
	}
}

// answer answers one command.
func (r *Reader) answer(words []string) string {
	r.mu.Lock()
	defer r.mu.Unlock()
	command := ""
	if len(words) > 0 {
		command = strings.ToUpper(words[0])
	}
	switch command {
	case "HELLO":
		return "READER " + readerName + " D50 2 SIMULATED"
	case "TILE":
		r.laid = whiteTile
		return "OK"
	case "LAY":
		return r.lay(words[1:])
	case "CALIBRATE":
		if r.laid != whiteTile {
			return "ERR NOTILE the white tile is not under the reader"
		}
		r.calibrated = readingsAtOnce
		return "OK"
	case "READ":
		return r.read()
	}
	return "ERR UNKNOWN commands are HELLO TILE LAY CALIBRATE READ"
}

func (r *Reader) lay(figures []string) string {
	if len(figures) != 3 {
		return "ERR LAY give L a b"
	}
	var lab [3]float64
	for i, f := range figures {
		v, err := strconv.ParseFloat(f, 64)
		if err != nil || !(v >= -200 && v <= 200) {
			return "ERR LAY give L a b"
		}
		lab[i] = v
	}
	r.laid = lab
	return "OK"
}

func (r *Reader) read() string {
	if r.calibrated == 0 {
		return "ERR CALIBRATE put the reader on its white tile first"
	}
	r.calibrated--
	r.taken++
	if r.taken%refusesEvery == 0 {
		return "ERR MOVED hold the reader still"
	}
	l := min(100, max(0, r.laid[0]+noiseL*r.random.NormFloat64()))
	return fmt.Sprintf("LAB %.3f %.3f %.3f", l, r.laid[1]+noiseAB*r.random.NormFloat64(), r.laid[2]+noiseAB*r.random.NormFloat64())
}
