package exchange

import (
	"bufio"
	"context"
	"fmt"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"lampfern/core/colour"
	"lampfern/standin"
)

func listen(t *testing.T) net.Listener {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { l.Close() })
	return l
}

// scripted is a reader that answers each command as told; "hang" does not
// answer and "drop" hangs up.
func scripted(t *testing.T, answers map[string]string) string {
	l := listen(t)
	go func() {
		c, err := l.Accept()
		if err != nil {
			return
		}
		defer c.Close()
		in := bufio.NewScanner(c)
		for in.Scan() {
			switch a := answers[strings.Fields(in.Text())[0]]; a {
			case "hang":
				time.Sleep(ReaderPatience + time.Second)
				return
			case "drop":
				return
			default:
				fmt.Fprintln(c, a)
			}
		}
	}()
	return l.Addr().String()
}

func TestReaderOfTheHouse(t *testing.T) {
	l := listen(t)
	ctx, stop := context.WithCancel(context.Background())
	ended := make(chan error)
	go func() { ended <- standin.NewReader(3).Serve(ctx, l) }()
	r, err := DialReader(ctx, l.Addr().String())
	require.NoError(t, err)
	defer r.Close()
	assert.Equal(t, "FERN-SIM 1", r.Name)
	assert.True(t, r.Simulated)

	plum := colour.Lab{L: 20.9, A: 22, B: -13.1}
	require.NoError(t, r.Lay(plum))
	_, err = r.Read()
	assert.ErrorIs(t, err, ErrNotCalibrated)
	require.NoError(t, r.Calibrate(), "it is put on its tile")
	require.NoError(t, r.Lay(plum))
	assert.ErrorIs(t, r.order("CALIBRATE"), ErrNoTile)
	var all []colour.Lab
	moved := 0
	for range 40 {
		lab, err := r.Read()
		if err != nil {
			assert.ErrorIs(t, err, ErrMoved)
			moved++
			continue
		}
		all = append(all, lab)
	}
	assert.Equal(t, 4, moved, "it refuses at times")
	mean, spread := colour.Mean(all)
	assert.Less(t, colour.DeltaE2000(mean, plum), 0.15)
	assert.Greater(t, spread, 0.05)
	for range 30 {
		_, err = r.Read()
	}
	assert.ErrorIs(t, err, ErrNotCalibrated, "calibration wears off")
	for _, c := range []string{"LAY 1 2", "LAY x y z", "DANCE"} {
		assert.ErrorContains(t, r.order(c), "refuses")
	}
	stop()
	assert.NoError(t, <-ended)
	_, err = r.Read()
	assert.ErrorContains(t, err, "broke off")
}

func TestReadersThatMisbehave(t *testing.T) {
	const hello = "READER ODD 2 D50 2"
	for want, answers := range map[string]map[string]string{
		`answered "MOO"`:              {"HELLO": "MOO"},
		"does not give colours":       {"HELLO": "READER ODD D65 10"},
		"has not answered":            {"HELLO": hello, "READ": "hang"},
		"broke off":                   {"HELLO": hello, "READ": "drop"},
		`"LAB 12 x 3"`:                {"HELLO": hello, "READ": "LAB 12 x 3"},
		`"LAB 412 0 3"`:               {"HELLO": hello, "READ": "LAB 412 0 3"},
		`"LAB NaN 0 3"`:               {"HELLO": hello, "READ": "LAB NaN 0 3"},
		"which is not a reading":      {"HELLO": hello, "READ": strings.Repeat("x", 4000)},
		"refuses: BATTERY nearly out": {"HELLO": hello, "READ": "ERR BATTERY nearly out"},
	} {
		t.Run(want, func(t *testing.T) {
			t.Parallel()
			r, err := DialReader(context.Background(), scripted(t, answers))
			if err == nil {
				defer r.Close()
				assert.False(t, r.Simulated)
				_, err = r.Read()
			}
			assert.ErrorContains(t, err, want)
		})
	}
	l := listen(t)
	l.Close()
	_, err := DialReader(context.Background(), l.Addr().String())
	assert.ErrorContains(t, err, "no reader answers")
}
