package buy

import (
	"bytes"
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

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

func (e DropWish) Do(d *plan.Draft) (string, error) {
	i := slices.IndexFunc(d.Plan.Wishes, func(w plan.Wish) bool { return w.Key == e.Key })
	if i < 0 {
		return "", words.Refuse("That wish was already removed.")
	}
	name := d.Plan.Wishes[i].Name
	d.Plan.Wishes = slices.Delete(d.Plan.Wishes, i, i+1)
	return "remove the wish for " + name, nil
}

// Answer says what the piece cannot know, and how many are made. What is left empty
// goes back to the usual.
type Answer struct {
	Times int `form:"times,optional"`
	given map[string]string
}

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

func (e Answer) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	of := craftOf(d.Plan)
	values := piece.Values{}
	for _, a := range of.Asks {
		if _, asked := e.given[a.Key]; !asked { // not on the page, as what it hangs on is otherwise
			if v, there := s.Asked[of.Name][a.Key]; there {
				values[a.Key] = v
			}
			continue
		}
		text := strings.Replace(strings.TrimSpace(e.given[a.Key]), ",", ".", 1)
		if text == "" {
			continue
		}
		v, err := strconv.ParseFloat(text, 64)
		if err != nil || !(v >= a.Min && v <= a.Max) {
			return "", words.Refuse("%s is %q: write a number from %g to %g%s.", words.Capital(a.Name), text, a.Min, a.Max,
				strings.TrimRight(" "+a.Unit, " "))
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
	return "change your measurements", nil
}

// WriteList takes a list of the maker's own, or takes it off where it is empty.
type WriteList struct {
	List string `form:"list"`
	Text string `form:"text,optional"`
}

func (e WriteList) Do(d *plan.Draft) (string, error) {
	of := craftOf(d.Plan)
	at := slices.IndexFunc(of.Lists, func(l piece.List) bool { return l.Key == e.List })
	if at < 0 {
		return "", words.Refuse("This craft has no such list: load the page again.")
	}
	s, l := Of(d.Plan), of.Lists[at]
	s.Lists = maps.Clone(s.Lists)
	if strings.TrimSpace(e.Text) == "" {
		delete(s.Lists, l.Key)
		return "delete your list", nil
	}
	if _, err := l.Read(e.Text); err != nil {
		return "", words.Refuse("%s: %s. Not saved.", l.Name, err)
	}
	if s.Lists == nil {
		s.Lists = map[string]string{}
	}
	s.Lists[l.Key] = e.Text
	return "take " + strings.ToLower(l.Name[:1]) + l.Name[1:], nil
}

// BringList takes a list of the maker's own from a file.
type BringList struct {
	List string `form:"list"`

	file plan.File
}

func (e *BringList) Take(f plan.File) { e.file = f }

func (e BringList) Do(d *plan.Draft) (string, error) {
	if !utf8.Valid(e.file.Data) || len(bytes.TrimSpace(e.file.Data)) == 0 {
		return "", words.Refuse("Not imported: the file holds no text. Save the list as CSV in UTF-8.")
	}
	return WriteList{e.List, string(e.file.Data)}.Do(d)
}

// Fit gives the piece the settings that the maker's own figures ask for.
type Fit struct{}

func (Fit) Do(d *plan.Draft) (string, error) {
	p, err := d.View()
	if err != nil {
		return "", err
	}
	v, err := Rows(d.Ctx, d.Desk, p)
	if err != nil {
		return "", err
	}
	if v.Fit == nil {
		return "", words.Refuse("The piece is drawn by your figures already.")
	}
	settings := maps.Clone(d.Plan.Settings)
	if settings == nil {
		settings = map[string]float64{}
	}
	maps.Copy(settings, v.Fit.Settings)
	if _, err := (plan.ChoosePiece{Pattern: d.Plan.Pattern, Settings: settings}).Do(d); err != nil {
		return "", err
	}
	return "draw the piece by your own figures", nil
}

// Amount says how much of a row is needed, in the base unit of its kind; nothing goes
// back to what the piece takes.
type Amount struct {
	Row  string `form:"row"`
	Much string `form:"much,optional"`
}

func (e Amount) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	s.Amounts = maps.Clone(s.Amounts)
	if strings.TrimSpace(e.Much) == "" {
		delete(s.Amounts, e.Row)
		return "use the calculated amount", nil
	}
	v, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(e.Much), ",", ".", 1), 64)
	if err != nil {
		return "", words.Refuse("%q is not a number. Write how much you need in figures, or leave it empty to use what the piece takes.", e.Much)
	}
	if s.Amounts == nil {
		s.Amounts = map[string]float64{}
	}
	s.Amounts[e.Row] = v
	return "use your own amount", nil
}

// Mixed says that several lots may be used in a row, or no longer.
type Mixed struct {
	Row string `form:"row"`
}

func (e Mixed) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	if at := slices.Index(s.Mixed, e.Row); at >= 0 {
		s.Mixed = slices.Delete(slices.Clone(s.Mixed), at, at+1)
		return "use one lot", nil
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

func (e AddLine) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	line := OwnLine{Key: 1, Name: strings.Join(strings.Fields(e.Name), " "), Much: strings.Join(strings.Fields(e.Much), " "), Price: e.Price}
	if line.Name == "" {
		return "", words.Refuse("Write what to buy.")
	}
	for _, o := range s.Own {
		line.Key = max(line.Key, o.Key+1)
	}
	s.Own = append(slices.Clone(s.Own), line)
	return "add " + line.Name + " to the list", nil
}

// DropLine takes a line of the maker's own off the list.
type DropLine struct {
	Key int `form:"key"`
}

func (e DropLine) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	at := slices.IndexFunc(s.Own, func(o OwnLine) bool { return o.Key == e.Key })
	if at < 0 {
		return "", words.Refuse("That line is no longer on the list.")
	}
	name := s.Own[at].Name
	s.Own = slices.Delete(slices.Clone(s.Own), at, at+1)
	return "remove " + name + " from the list", nil
}

// KeepBack keeps what is on hand and needed back for this plan, so that others do not
// count on it; or lets it go.
type KeepBack struct{}

func (KeepBack) Do(d *plan.Draft) (string, error) {
	s := Of(d.Plan)
	if len(s.Kept) > 0 {
		s.Kept = nil
		return "release the stock", nil
	}
	p, err := d.View()
	if err != nil {
		return "", err
	}
	v, err := Rows(d.Ctx, d.Desk, p)
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
		return "", words.Refuse("You have none of what this plan needs, so there is nothing to reserve.")
	}
	return "reserve the stock", nil
}
