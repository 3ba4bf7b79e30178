package exchange

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"strconv"
	"strings"
	"time"

	"lampfern/core/colour"
)

// A hand-held colour reader that answers on a socket: one command a line, one
// answer a line, as docs/reader.md tells.

// ReaderPatience is how long a reader may take over one answer.
const ReaderPatience = 3 * time.Second

// maxAnswer bounds one line of a reader, in bytes.
const maxAnswer = 512

// Errors a maker can do something about; others end the talk.
var (
	ErrNotCalibrated = errors.New("the reader needs its white tile: put it on the tile and calibrate it")
	ErrNoTile        = errors.New("the white tile is not under the reader: put the reader on its tile and calibrate again")
	ErrMoved         = errors.New("the reader was moved while it read: hold it still")
)

// Reader is an open talk with a colour reader.
type Reader struct {
	Name      string
	Simulated bool // it can be told what lies under it
	conn      net.Conn
	in        *bufio.Reader
}

// DialReader opens a talk and asks who is there. A reader whose colours are
// not for D50 and 2° is refused. The error is a sentence.
func DialReader(ctx context.Context, address string) (*Reader, error) {
	d := net.Dialer{Timeout: ReaderPatience}
	c, err := d.DialContext(ctx, "tcp", address)
	if err != nil {
		return nil, fmt.Errorf("no reader answers at %s: switch it on and try again", address)
	}
	r := &Reader{conn: c, in: bufio.NewReaderSize(c, maxAnswer)}
	words, err := r.ask("HELLO")
	if err == nil && (len(words) < 4 || words[0] != "READER") {
		err = nonsense(words)
	}
	if err != nil {
		r.Close()
		return nil, err
	}
	light, rest := -1, words[1:]
	for i, w := range rest {
		if light < 0 && (strings.HasPrefix(w, "D") || w == "A") && i+1 < len(rest) && (rest[i+1] == "2" || rest[i+1] == "10") {
			light = i
		}
	}
	if light < 0 || rest[light] != "D50" || rest[light+1] != "2" {
		r.Close()
		return nil, errors.New("the reader does not give colours for D50 and 2°: set it to those and try again")
	}
	r.Name, r.Simulated = strings.Join(rest[:light], " "), len(rest) > light+2 && rest[light+2] == "SIMULATED"
	return r, nil
}

// Close ends the talk.
func (r *Reader) Close() error { return r.conn.Close() }

func nonsense(words []string) error {
	return fmt.Errorf("the reader answered %q, which is not a reading: switch it off and on and try again", shorten(strings.Join(words, " ")))
}

// ask sends one command and returns the words of the answer.
func (r *Reader) ask(command string) ([]string, error) {
	if err := r.conn.SetDeadline(time.Now().Add(ReaderPatience)); err != nil {
		return nil, fmt.Errorf("talking to the reader: %w", err)
	}
	_, err := fmt.Fprintln(r.conn, command)
	var line []byte
	if err == nil {
		line, err = r.in.ReadSlice('\n')
	}
	var late net.Error
	switch {
	case errors.As(err, &late) && late.Timeout():
		return nil, fmt.Errorf("the reader has not answered for %.0f seconds: check that it is awake and try again", ReaderPatience.Seconds())
	case errors.Is(err, bufio.ErrBufferFull):
		return nil, nonsense([]string{string(line)})
	case err != nil:
		return nil, errors.New("the reader broke off: check that it is still on and try again")
	}
	words := strings.Fields(strings.ToValidUTF8(string(line), "·"))
	if len(words) < 2 || words[0] != "ERR" {
		return words, nil
	}
	switch words[1] {
	case "CALIBRATE":
		return nil, ErrNotCalibrated
	case "NOTILE":
		return nil, ErrNoTile
	case "MOVED":
		return nil, ErrMoved
	}
	return nil, fmt.Errorf("the reader refuses: %s", shorten(strings.Join(words[1:], " ")))
}

func (r *Reader) order(command string) error {
	words, err := r.ask(command)
	if err == nil && (len(words) != 1 || words[0] != "OK") {
		err = nonsense(words)
	}
	return err
}

// Calibrate calibrates on the white tile, which must be under the reader; a
// simulated one is put there.
func (r *Reader) Calibrate() error {
	if r.Simulated {
		if err := r.order("TILE"); err != nil {
			return err
		}
	}
	return r.order("CALIBRATE")
}

// Lay tells a simulated reader what lies under it.
func (r *Reader) Lay(c colour.Lab) error {
	d := c.D50()
	return r.order(fmt.Sprintf("LAY %.4f %.4f %.4f", d.L, d.A, d.B))
}

// Read takes one reading and brings it to D65.
func (r *Reader) Read() (colour.Lab, error) {
	words, err := r.ask("READ")
	if err != nil {
		return colour.Lab{}, err
	}
	if len(words) != 4 || words[0] != "LAB" {
		return colour.Lab{}, nonsense(words)
	}
	var v [3]float64
	for i := range v {
		if v[i], err = strconv.ParseFloat(words[i+1], 64); err != nil {
			return colour.Lab{}, nonsense(words)
		}
	}
	lab := colour.FromD50(colour.Lab{L: v[0], A: v[1], B: v[2]})
	if lab.L > 100 && lab.L <= brightest {
		lab.L = 100
	}
	if lab.Check() != nil {
		return colour.Lab{}, nonsense(words)
	}
	return lab, nil
}
