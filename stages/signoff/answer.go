package signoff

import (
	"context"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash/crc32"
	"slices"
	"strconv"
	"strings"
	"time"

	"lampfern/core/form"
	"lampfern/core/words"
	"lampfern/door"
	"lampfern/plan"
	"lampfern/store"
)

// Ways in which an answer comes.
const (
	ByLink = "link"
	ByFile = "file"
	ByWord = "word"
)

// Reply is what a client says to a sheet.
type Reply struct {
	Agreed  bool              `json:"agreed"`
	Name    string            `json:"name"`
	Way     string            `json:"way"`
	Remark  string            `json:"remark"`
	Remarks map[string]string `json:"remarks"`
	Once    string            `json:"once"` // of the form
}

// mostRemark bounds a remark, in characters.
const mostRemark = 1000

// tidy checks a reply to a sheet and leaves out what is empty.
func (r *Reply) tidy(f *Frozen) error {
	r.Name, r.Remark = oneLine(r.Name), strings.TrimSpace(r.Remark)
	switch {
	case r.Name == "":
		return words.Refuse("Please write your name.")
	case len([]rune(r.Name)) > mostWord:
		return words.Refuse("A name has at most %d characters.", mostWord)
	case len(r.Once) > 100:
		return words.Refuse("Part of this form is missing. Open the page again.")
	case !slices.ContainsFunc(f.Ways, func(w Way) bool { return w.Name == r.Way }):
		return words.Refuse("Choose one of the colourways shown.")
	}
	kept := map[string]string{}
	for _, c := range f.Cards {
		text := strings.TrimSpace(r.Remarks[c.Name])
		if len([]rune(text)) > mostRemark {
			return words.Refuse("Your comment on %s has more than %d characters. Please shorten it.", c.Name, mostRemark)
		}
		if text != "" {
			kept[c.Name] = text
		}
	}
	if len([]rune(r.Remark)) > mostRemark {
		return words.Refuse("Your comment has more than %d characters. Please shorten it.", mostRemark)
	}
	if !r.Agreed && r.Remark == "" && len(kept) == 0 {
		return words.Refuse("Please say what to change: comment on a colour, or write below.")
	}
	r.Remarks = kept
	return nil
}

// Answer keeps a reply to a sheet. The same form sent twice counts once; of several
// answers the last counts.
func Answer(ctx context.Context, k *plan.Desk, s store.Sheet, r Reply, by string) error {
	f, err := Unpack(s.Doc)
	if err != nil {
		return err
	}
	if err := r.tidy(f); err != nil {
		return err
	}
	if r.Once == "" {
		r.Once = door.Token()
	}
	return k.Store.Write(ctx, func(tx store.Tx) error {
		_, err := tx.PutAnswer(&store.Answer{SheetID: s.ID, AnsweredAt: time.Now().UTC(), Once: r.Once, Agreed: r.Agreed, Name: r.Name,
			Way: r.Way, Remark: r.Remark, Remarks: r.Remarks, By: by})
		return err
	})
}

// Open says why a link no longer opens at a time; nil for one that does.
func Open(s store.Sheet, now time.Time) error {
	switch {
	case s.WithdrawnAt != nil:
		return words.Refuse("This sheet was withdrawn. Ask whoever sent it for a new one.")
	case now.After(s.EndsAt):
		return words.Refuse("This link expired on %s. Ask whoever sent it for a new one.", words.Date(s.EndsAt.Local()))
	}
	return nil
}

// textStart begins an answer that was made by a file.
const textStart = "LAMPFERN1"

// FileKey binds the answer of a file to its sheet, and tells nothing of its link.
func FileKey(s store.Sheet) string {
	sum := sha256.Sum256([]byte("file " + s.Token))
	return hex.EncodeToString(sum[:])[:24]
}

// AnswerText is a reply as a file writes it out.
func AnswerText(s store.Sheet, r Reply) string {
	data, _ := json.Marshal(r) // text and truth values alone
	body := base64.RawURLEncoding.EncodeToString(data)
	return fmt.Sprintf("%s.%d.%s.%08x", textStart, s.Number, body, crc32.ChecksumIEEE([]byte(FileKey(s)+body)))
}

// answered takes an answer text apart, wherever mail broke its lines: the number of the
// sheet it answers, what was said, and the check of that.
func answered(text string) (number int, body, check string, err error) {
	text = strings.Join(strings.Fields(text), "")
	if at := strings.Index(text, textStart+"."); at >= 0 {
		text = text[at:]
	}
	at := strings.Split(text, ".")
	if len(at) == 4 && at[0] == textStart {
		if number, err = strconv.Atoi(at[1]); err == nil {
			return number, at[2], strings.ToLower(at[3]), nil
		}
	}
	return 0, "", "", words.Refuse("That is not a reply to a sheet. Paste the whole text. It begins with %s.", textStart)
}

// ReadAnswer reads an answer text that was made for a sheet.
func ReadAnswer(s store.Sheet, text string) (Reply, error) {
	var r Reply
	number, body, sum, err := answered(text)
	if err != nil {
		return r, err
	}
	if number != s.Number {
		return r, words.Refuse("That is a reply to sheet %d, and this is sheet %d.", number, s.Number)
	}
	check := fmt.Sprintf("%08x", crc32.ChecksumIEEE([]byte(FileKey(s)+body)))
	data, err := base64.RawURLEncoding.DecodeString(body)
	if check != sum || err != nil || json.Unmarshal(data, &r) != nil {
		return r, words.Refuse("That reply was changed, or belongs to another plan. Ask for it again.")
	}
	return r, nil
}

// sheetOf is the sheet of a plan that an act is about.
func sheetOf(ctx context.Context, k *plan.Desk, p *plan.Plan, number int) (store.Sheet, error) {
	s, err := k.Store.Read(ctx).Sheet(p.ID, number)
	if err != nil {
		return s, words.Refuse("This plan has no sheet %d. Load the page again.", number)
	}
	return s, nil
}

// Paste takes the answer text of a file, for the sheet that it names.
type Paste struct {
	Text string `form:"text"`
}

func (e Paste) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	number, _, _, err := answered(e.Text)
	if err != nil {
		return "", err
	}
	s, err := k.Store.Read(ctx).Sheet(p.ID, number)
	if errors.Is(err, store.ErrNotFound) {
		return "", words.Refuse("That is a reply to sheet %d, and this plan has no such sheet. Open the plan it belongs to.", number)
	}
	if err != nil {
		return "", fmt.Errorf("reading the sheet that is answered: %w", err)
	}
	r, err := ReadAnswer(s, e.Text)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("The reply of %s to sheet %d is saved.", oneLine(r.Name), s.Number), Answer(ctx, k, s, r, ByFile)
}

// Told keeps what a client said in words.
type Told struct {
	Sheet  int    `form:"sheet"`
	Agreed bool   `form:"agreed,optional"`
	Name   string `form:"name"`
	Way    string `form:"way,optional"`
	Remark string `form:"remark,optional"`
}

func (e Told) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	s, err := sheetOf(ctx, k, p, e.Sheet)
	if err != nil {
		return "", err
	}
	if e.Way == "" {
		e.Way = AsItIs
	}
	return "What " + oneLine(e.Name) + " said is saved.", Answer(ctx, k, s, Reply{Agreed: e.Agreed, Name: e.Name, Way: e.Way, Remark: e.Remark},
		ByWord)
}

// Withdraw takes a sheet's link back, or opens it again.
type Withdraw struct {
	Sheet int  `form:"sheet"`
	Open  bool `form:"open,optional"`
}

func (e Withdraw) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	s, err := sheetOf(ctx, k, p, e.Sheet)
	if err != nil {
		return "", err
	}
	now := time.Now().UTC()
	at, said := &now, fmt.Sprintf("Sheet %d is withdrawn: its link no longer opens.", s.Number)
	if e.Open {
		at, said = nil, fmt.Sprintf("The link of sheet %d opens again.", s.Number)
	}
	return said, k.Store.Write(ctx, func(tx store.Tx) error { return tx.MarkSheet(s.ID, "withdrawn_at", at) })
}

// Sent notes that a sheet was sent.
type Sent struct {
	Sheet int `form:"sheet"`
}

func (e Sent) Act(ctx context.Context, k *plan.Desk, p *plan.Plan) (string, error) {
	s, err := sheetOf(ctx, k, p, e.Sheet)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("Sheet %d is sent.", s.Number), WasSent(ctx, k, s)
}

// WasSent notes that a sheet was sent now.
func WasSent(ctx context.Context, k *plan.Desk, s Sheet) error {
	now := time.Now().UTC()
	return k.Store.Write(ctx, func(tx store.Tx) error { return tx.MarkSheet(s.ID, "sent_at", &now) })
}

var _ form.Reader = &Make{}
