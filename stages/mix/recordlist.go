package mix

import (
	"context"
	"fmt"
	"strings"

	"lampfern/plan"
	"lampfern/shelf"
)

// RecordsView is every record of the maker, searched.
type RecordsView struct {
	Records   []RecordView
	All       int
	Text      string // that is searched for
	States    []string
	UndoLabel string
}

// Records lists the records in which every word of a text is found: in the name, what
// went in, the light, the additive, the remark or the day.
func Records(ctx context.Context, k *plan.Desk, p *plan.Plan, text string) (*RecordsView, error) {
	all, err := k.Store.Read(ctx).Mixes()
	if err != nil {
		return nil, fmt.Errorf("reading the records of mixes: %w", err)
	}
	view := &MixView{}
	b, err := benchOf(ctx, k, p, chosen(p), all)
	if err != nil {
		return nil, err
	}
	view.records(b, all)
	v := &RecordsView{All: len(all), Text: strings.TrimSpace(text), States: States()}
	for _, r := range view.Records {
		said := strings.ToLower(strings.Join([]string{r.Name, r.Words, r.Basis, r.ReadAs, r.Light, r.Additive, r.Remark, r.Day}, "\n"))
		found := true
		for _, w := range strings.Fields(strings.ToLower(v.Text)) {
			found = found && strings.Contains(said, w)
		}
		if found {
			v.Records = append(v.Records, r)
		}
	}
	v.UndoLabel, err = shelf.MixSteps(k.Store.Read(ctx))
	return v, err
}
