package shelf

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"

	"lampfern/core/colour"
	"lampfern/core/material"
	"lampfern/core/words"
	"lampfern/exchange"
)

// Limits of measuring.
const (
	MaxReadings   = 20
	refusedAtMost = 5 // readings the reader may refuse before it is given up
)

// Measured is what a colour reader said of one thing.
type Measured struct {
	Readings []colour.Lab // D65
	Refused  int          // readings it would not give
	Mean     colour.Lab
	Spread   float64 // mean ΔE00 to the mean
}

// Uncertainty says how far the mean may be off, ΔE00: a reader's own doubt and
// the unevenness of the thing together.
func (m Measured) Uncertainty() float64 {
	const own = 1
	return math.Round(10*math.Hypot(own, m.Spread)) / 10
}

// Reader is the address of the colour reader in use, empty for none.
func (s *Keeper) Reader() string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return cmp.Or(s.ReaderAddress, s.stood)
}

// Simulate starts a simulated reader where no reader is in use.
func (s *Keeper) Simulate() error {
	if s.Reader() != "" {
		return nil
	}
	if s.StartReader == nil {
		return words.Refuse("There is no simulated reader to start here.")
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.stood != "" {
		return nil
	}
	address, err := s.StartReader()
	if err != nil {
		return words.Refuse("The simulated reader could not be started: %s.", err)
	}
	s.stood = address
	return nil
}

// withReader opens a talk with the reader, does a job, and ends it.
func (s *Keeper) withReader(ctx context.Context, do func(*exchange.Reader) error) error {
	address := s.Reader()
	if address == "" {
		return words.Refuse("No colour reader is set up. Start the program with --reader and the reader's address, or try the simulated one to see how measuring works.")
	}
	r, err := exchange.DialReader(ctx, address)
	if err == nil {
		defer r.Close()
		err = do(r)
	}
	if err != nil {
		return words.Refuse("Nothing was measured: %s.", err)
	}
	return nil
}

// ReaderState says which reader answers.
func (s *Keeper) ReaderState(ctx context.Context) (name string, simulated bool, err error) {
	err = s.withReader(ctx, func(r *exchange.Reader) error {
		name, simulated = r.Name, r.Simulated
		return nil
	})
	return name, simulated, err
}

// Calibrate calibrates the reader on its white tile.
func (s *Keeper) Calibrate(ctx context.Context) error {
	return s.withReader(ctx, func(r *exchange.Reader) error { return r.Calibrate() })
}

// Measure takes n readings and averages them. A simulated reader is first told
// what lies under it, when under is given. A reading the reader refuses is
// asked for again, a few times.
func (s *Keeper) Measure(ctx context.Context, n int, under *colour.Lab) (m Measured, err error) {
	if n < 1 || n > MaxReadings {
		return m, words.Refuse("Choose between 1 and %d readings.", MaxReadings)
	}
	err = s.withReader(ctx, func(r *exchange.Reader) error {
		if r.Simulated && under != nil {
			if err := r.Lay(*under); err != nil {
				return err
			}
		}
		for len(m.Readings) < n {
			if err := ctx.Err(); err != nil {
				return err
			}
			lab, err := r.Read()
			switch {
			case errors.Is(err, exchange.ErrMoved) && m.Refused < refusedAtMost:
				m.Refused++
			case err != nil:
				return err
			default:
				m.Readings = append(m.Readings, lab)
			}
		}
		return nil
	})
	if err != nil {
		return Measured{}, err
	}
	m.Mean, m.Spread = colour.Mean(m.Readings)
	return m, nil
}

// KeepMeasured keeps a measured colour: as a new material of that name and
// kind, as the colour of a material (id), or as that of one of its lots.
func (s *Keeper) KeepMeasured(ctx context.Context, m Measured, id uint, lot, name, kind string) (uint, error) {
	if id == 0 {
		return s.SaveMaterial(ctx, 0, 0, material.Material{Name: name, Kind: kind, Colour: m.Mean, Source: "measured",
			Uncertainty: m.Uncertainty(),
			Remark:      fmt.Sprintf("Mean of %d readings, spread %.2f.", len(m.Readings), m.Spread)})
	}
	sh, err := s.Shelf(ctx)
	if err != nil {
		return 0, err
	}
	c, err := sh.Card(id)
	if err != nil {
		return 0, err
	}
	changed := c.Material
	if lot == "" {
		changed.Colour, changed.Source, changed.Uncertainty = m.Mean, "measured", m.Uncertainty()
		return s.SaveMaterial(ctx, id, c.Revision, changed)
	}
	changed.Lots = append([]material.Lot(nil), changed.Lots...)
	for i := range changed.Lots {
		if changed.Lots[i].Name == lot {
			changed.Lots[i].Colour = &m.Mean
			return s.SaveMaterial(ctx, id, c.Revision, changed)
		}
	}
	return 0, words.Refuse("%s has no lot %q any more. Choose another, or measure the material itself.", c.Name, lot)
}
