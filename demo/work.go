package demo

import (
	"context"
	"fmt"
	"slices"
	"time"

	"lampfern/core/colour"
	"lampfern/core/piece"
	"lampfern/plan"
	"lampfern/plan/work"
	"lampfern/stages/log"
)

// loadWork puts three plans to work: one is finished and judged, one is late, and one is
// at work and in time. Days are reckoned from today.
func loadWork(ctx context.Context, s *plan.Desk) error {
	plans, err := s.Plans(ctx)
	if err != nil {
		return err
	}
	for _, one := range []struct {
		craft string
		do    func(*worker) error
	}{{"weaving", (*worker).finish}, {"knitting or crochet", (*worker).late}, {"quilt", (*worker).midway}} {
		at := slices.IndexFunc(plans, func(p plan.Summary) bool { return p.Craft == one.craft })
		if at < 0 {
			continue
		}
		w := &worker{ctx, s, plans[at].ID, time.Now()}
		if err := w.edit(&log.OrderWork{}); err != nil {
			return err
		}
		if err := one.do(w); err != nil {
			return fmt.Errorf("%s: %w", plans[at].Name, err)
		}
	}
	return nil
}

// worker works on one plan.
type worker struct {
	ctx context.Context
	k   *plan.Desk
	id  uint
	now time.Time
}

func (w *worker) edit(e plan.Edit) error {
	p, err := w.k.Open(w.ctx, w.id)
	if err != nil {
		return err
	}
	_, err = w.k.Change(w.ctx, w.id, p.Revision, e)
	return err
}

// day is so many days from today, as it is written.
func (w *worker) day(n int) string { return w.now.AddDate(0, 0, n).Format(time.DateOnly) }

// write puts a page into the diary.
func (w *worker) write(e log.Page) error {
	p, err := w.k.Open(w.ctx, w.id)
	if err != nil {
		return err
	}
	_, err = log.Write(w.ctx, w.k, p, p.Revision, e, w.now)
	return err
}

// steps are the steps that are not left out, in their order.
func (w *worker) steps() (out []work.Step, err error) {
	p, err := w.k.Open(w.ctx, w.id)
	if err != nil {
		return nil, err
	}
	for _, st := range work.Of(p).Steps {
		if !st.Left && st.Key != piece.Agreed {
			out = append(out, st)
		}
	}
	return out, nil
}

// finish does every step of a plan in the past, reads what was made, and judges it.
func (w *worker) finish() error {
	all, err := w.steps()
	if err != nil {
		return err
	}
	for i, st := range all {
		took := fmt.Sprintf("%.0f min", st.Work()*[]float64{1.1, .9, 1.25}[i%3])
		if err := w.edit(&log.Tick{Step: st.Key, Day: w.day(-6 * (len(all) - i)), Took: took}); err != nil {
			return err
		}
	}
	for _, e := range []log.Page{
		{Day: w.day(-30), Step: "sample",
			Words: "The sample drew in more than I thought, and the pale weft washed out a shade. Tied on again with the darker one beside it."},
		{Day: w.day(-18), Step: "weave", Words: "An even beat at last. The second ball is from another lot, and it shows a little by the window.",
			Why: "Alternated two shuttles from there on."},
		{Day: w.day(-7), Words: "Hung it in the prompt corner under the warm bulbs. The edge can be seen from the stalls."},
	} {
		if err := w.write(e); err != nil {
			return err
		}
	}
	p, err := w.k.Open(w.ctx, w.id)
	if err != nil {
		return err
	}
	figures := func(c colour.Lab) string { return fmt.Sprintf("%.2f %.2f %.2f", c.L, c.A, c.B) }
	for i, t := range p.Tray {
		c := t.Colour // the wash took a little, and photos under this lamp come out yellow
		came := colour.Lab{L: c.L + .6, A: c.A - .4, B: c.B + .3*float64(i)}
		washed := colour.Lab{L: c.L + 1.8 + .4*float64(i), A: .94 * c.A, B: .94 * c.B}
		for _, one := range []log.KeepMade{
			{Card: t.Name, How: "photo", Colour: figures(colour.Lab{L: came.L - 1.1, A: came.A + .5, B: came.B + 3.2 + .3*float64(i%2)})},
			{Card: t.Name, How: "photo", Washed: true, Colour: figures(colour.Lab{L: washed.L - 1.3, A: washed.A + .4, B: washed.B + 2.9})},
			{Card: t.Name, How: "reader", Colour: figures(came)},
			{Card: t.Name, How: "reader", Washed: true, Colour: figures(washed)},
		} {
			if err := w.edit(&one); err != nil {
				return err
			}
		}
	}
	return w.edit(&log.Judge{Again: "yes", Words: "The dark border holds it together from a distance, and the pale stripe keeps it from looking sombre.",
		Otherwise: "Wash a sample of every yarn before winding the warp, and buy one lot for the whole weft."})
}

// late wants a plan sooner than its hours allow.
func (w *worker) late() error {
	return w.edit(&log.Wanted{Due: w.day(16)})
}

// midway is at work on a plan that is in time.
func (w *worker) midway() error {
	if err := w.edit(&log.Wanted{Due: w.day(96)}); err != nil {
		return err
	}
	all, err := w.steps()
	if err != nil {
		return err
	}
	done := slices.IndexFunc(all, func(st work.Step) bool { return st.Key == "blocks" })
	for i, st := range all[:max(0, done)] {
		if err := w.edit(&log.Tick{Step: st.Key, Day: w.day(-5 * (done - i)),
			Took: fmt.Sprintf("%.0f min", st.Work()*[]float64{1.2, .8}[i%2])}); err != nil {
			return err
		}
		if st.Why == "delivery" {
			if err := w.edit(&log.Over{Step: st.Key}); err != nil {
				return err
			}
		}
	}
	data, err := files.ReadFile("photos/" + clothsPhoto)
	if err != nil {
		return err
	}
	hash, err := w.k.AddPhoto(w.ctx, clothsPhoto, data)
	if err != nil {
		return err
	}
	if err := w.write(log.Page{Day: w.day(-9),
		Words:  "The bolts have come. Side by side under the kitchen lamp the second cream is yellower than the first.",
		Photos: []string{hash}}); err != nil {
		return err
	}
	if done < 0 {
		return nil
	}
	return w.write(log.Page{Day: w.day(-1), Step: "blocks", Took: "1 h 30",
		Words:  "Chain-pieced the peaks, eleven of eighteen. The yellower cream goes into the lower rows, where it sits beside the sparks.",
		Change: "Two creams, kept to separate rows.", Why: "One bolt was not enough."})
}
