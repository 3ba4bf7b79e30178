package buy

import (
	"maps"
	"slices"
	"strconv"
	"strings"

	"lampfern/core/craft"
	"lampfern/core/form"
	"lampfern/core/piece"
	"lampfern/core/words"
	"lampfern/plan"
)

// DropWish takes a colour off the wish list.
type DropWish struct {
	Key int `form:"key"`
}

// Do makes the change.
func (e DropWish) Do(d *plan.Draft) (string, error) {
	i := slices.IndexFunc(d.Plan.Wishes, func(w plan.Wish) bool { return w.Key == e.Key })
	if i < 0 {
		return "", words.Refuse("That wish is no longer on the list.")
	}
	name := d.Plan.Wishes[i].Name
	d.Plan.Wishes = slices.Delete(d.Plan.Wishes, i, i+1)
	return "no longer wish for " + name, nil
}

// Answer says what the piece cannot know, and how many are made. What is left empty
// goes back to the usual.
type Answer struct {
	Times int `form:"times,optional"`
	given map[string]string
}

// Read implements form.Reader.
func (e *Answer) Read(f *form.Form) error {
	e.given = map[string]string{}
	for _, c := range craft.All() {
		for _, a := range c.Asks {
			if f.Has("ask-" + a.Key) {
				e.given[a.Key] = f.Text("ask-" + a.Key)
			}
		}
	}
	return nil
}

// Do makes the change.
func (e Answer) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	of, _ := craft.Named(d.Plan.Craft)
	values := piece.Values{}
	for _, a := range of.Asks {
		text := strings.Replace(strings.TrimSpace(e.given[a.Key]), ",", ".", 1)
		if text == "" {
			continue
		}
		v, err := strconv.ParseFloat(text, 64)
		if err != nil || !(v >= a.Min && v <= a.Max) {
			return "", words.Refuse("%s is %q: write a number from %g to %g%s.", words.Capital(a.Name), text, a.Min, a.Max, strings.TrimRight(" "+a.Unit, " "))
		}
		if a.Whole && v != float64(int(v)) {
			return "", words.Refuse("%s must be a whole number; %s is not.", words.Capital(a.Name), text)
		}
		values[a.Key] = v
	}
	s.Asked = maps.Clone(s.Asked)
	if s.Asked == nil {
		s.Asked = map[string]piece.Values{}
	}
	if s.Asked[of.Name] = values; len(values) == 0 {
		delete(s.Asked, of.Name)
	}
	if s.Times = e.Times; s.Times == 1 {
		s.Times = 0
	}
	return "say what the piece cannot know", nil
}

// Amount says how much of a row is needed, in the base unit of its kind; nothing goes
// back to what the piece takes.
type Amount struct {
	Row  string `form:"row"`
	Much string `form:"much,optional"`
}

// Do makes the change.
func (e Amount) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	s.Amounts = maps.Clone(s.Amounts)
	if strings.TrimSpace(e.Much) == "" {
		delete(s.Amounts, e.Row)
		return "need what the piece takes", nil
	}
	v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(e.Much), ",", ".", 1), 64)
	if err != nil {
		return "", words.Refuse("%q is no number: write how much is needed in figures, or nothing for what the piece takes.", e.Much)
	}
	if s.Amounts == nil {
		s.Amounts = map[string]float64{}
	}
	s.Amounts[e.Row] = v
	return "say how much is needed", nil
}

// Mixed says that several lots may be used in a row, or no longer.
type Mixed struct {
	Row string `form:"row"`
}

// Do makes the change.
func (e Mixed) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	if at := slices.Index(s.Mixed, e.Row); at >= 0 {
		s.Mixed = slices.Delete(slices.Clone(s.Mixed), at, at+1)
		return "take one lot alone", nil
	}
	s.Mixed = append(slices.Clone(s.Mixed), e.Row)
	return "use several lots", nil
}

// AddLine writes something to buy onto the list.
type AddLine struct {
	Name  string  `form:"name"`
	Much  string  `form:"much,optional"`
	Price float64 `form:"price,optional"`
}

// Do makes the change.
func (e AddLine) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	line := OwnLine{Key: 1, Name: strings.Join(strings.Fields(e.Name), " "), Much: strings.Join(strings.Fields(e.Much), " "), Price: e.Price}
	if line.Name == "" {
		return "", words.Refuse("Say what is to be bought.")
	}
	for _, o := range s.Own {
		line.Key = max(line.Key, o.Key+1)
	}
	s.Own = append(slices.Clone(s.Own), line)
	return "put " + line.Name + " on the list", nil
}

// DropLine takes a line of the maker's own off the list.
type DropLine struct {
	Key int `form:"key"`
}

// Do makes the change.
func (e DropLine) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	at := slices.IndexFunc(s.Own, func(o OwnLine) bool { return o.Key == e.Key })
	if at < 0 {
		return "", words.Refuse("That line is no longer on the list.")
	}
	name := s.Own[at].Name
	s.Own = slices.Delete(slices.Clone(s.Own), at, at+1)
	return "take " + name + " off the list", nil
}

// KeepBack keeps what is on hand and needed back for this plan, so that others do not
// count on it; or lets it go.
type KeepBack struct{}

// Do makes the change.
func (KeepBack) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	if len(s.Kept) > 0 {
		s.Kept = nil
		return "keep nothing back", nil
	}
	p, err := d.View()
	if err != nil {
		return "", err
	}
	v, err := View(d.Ctx, d.Desk, p)
	if err != nil {
		return "", err
	}
	kept := map[uint]float64{}
	var order []uint
	for _, r := range v.Rows {
		if r.Card == nil || r.Card.ID == 0 || r.Level == 0 {
			continue
		}
		if _, there := kept[r.Card.ID]; !there {
			order = append(order, r.Card.ID)
		}
		kept[r.Card.ID] += r.Need * r.Level
	}
	for _, id := range order {
		s.Kept = append(s.Kept, Kept{Material: id, Amount: kept[id]})
	}
	if len(s.Kept) == 0 {
		return "", words.Refuse("Nothing that is needed is on hand, so there is nothing to keep back.")
	}
	return "keep stock back", nil
}
