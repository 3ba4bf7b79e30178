package exchange

import (
	"bytes"
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"lampfern/core/material"
)

// PriceList is what a seller asks for what. Money is in the seller's currency; without
// one it is the maker's own.
type PriceList struct {
	Seller     string      `json:"name"`
	Year       int         `json:"year,omitempty"`
	Currency   string      `json:"currency,omitempty"`
	Postage    float64     `json:"postage,omitempty"`
	LeastOrder float64     `json:"least_order,omitempty"`
	LeadDays   int         `json:"lead_days,omitempty"`
	Lines      []PriceLine `json:"lines"`
	Bad        []BadLine   `json:"-"`
}

// PriceLine is one thing of a list. Price is of a pack that holds Pack of Unit.
type PriceLine struct {
	Reference    string   `json:"reference,omitempty"`
	Name         string   `json:"name"`
	Kind         string   `json:"kind"`
	Part         string   `json:"part,omitempty"` // ready-made, where a colour is priced part by part
	Unit         string   `json:"unit"`
	Pack         float64  `json:"pack"`
	Price        float64  `json:"price"`
	Least        float64  `json:"least,omitempty"`
	Stock        *float64 `json:"stock,omitempty"`
	Lots         []string `json:"lots,omitempty"`
	Discontinued bool     `json:"discontinued,omitempty"`
}

// Bounds of price lists.
const (
	PricesFormat  = "lampfern-prices"
	MaxPriceBytes = 5 << 20
	maxPriceLines = 20000
	maxMoney      = 1e6
	fetchPatience = 6 * time.Second
)

// mostHeading bounds the row that names the columns, in bytes.
const mostHeading = 64 << 10

// ReadPrices reads the lists of one or more sellers, as JSON or as CSV. Lines that cannot
// be used are named in Bad; the error is a sentence about the whole file.
func ReadPrices(ctx context.Context, data []byte) ([]PriceList, error) {
	if len(data) > MaxPriceBytes {
		return nil, fmt.Errorf("the price list is larger than %d MB: ask for a shorter one", MaxPriceBytes>>20)
	}
	if !utf8.Valid(data) {
		return nil, errors.New("the price list is not plain text: save it as CSV or JSON in UTF-8")
	}
	if head, _, _ := bytes.Cut(data, []byte("\n")); len(head) > mostHeading && !bytes.HasPrefix(bytes.TrimSpace(head), []byte("{")) {
		return nil,
			errors.New("the first row of the price list is far too long: it names the columns seller, year, name and so on, and each price has a row of its own")
	}
	start := bytes.TrimLeft(bytes.TrimPrefix(data, []byte(Mark)), " \t\r\n")
	var lists []PriceList
	if len(start) > 0 && start[0] == '{' {
		var f struct {
			Format  string      `json:"format"`
			Sellers []PriceList `json:"sellers"`
		}
		if err := json.Unmarshal(start, &f); err != nil || f.Format != PricesFormat {
			return nil, fmt.Errorf("the answer is not a price list: it does not begin with the format %q", PricesFormat)
		}
		lists = f.Sellers
	} else {
		var err error
		if lists, err = readPriceTable(ctx, start); err != nil {
			return nil, err
		}
	}
	lines := 0
	for i := range lists {
		l := &lists[i]
		l.Seller = strings.Join(strings.Fields(l.Seller), " ")
		if l.Seller == "" || utf8.RuneCountInString(l.Seller) > material.MaxField || utf8.RuneCountInString(l.Currency) > 12 {
			return nil, fmt.Errorf("a seller needs a name of at most %d characters, and a currency of at most 12", material.MaxField)
		}
		if !(l.Postage >= 0 && l.Postage <= maxMoney && l.LeastOrder >= 0 && l.LeastOrder <= maxMoney && l.LeadDays >= 0 && l.LeadDays <= 3650) {
			return nil, fmt.Errorf("%s has a postage, minimum order or delivery time that is not possible", l.Seller)
		}
		if lines += len(l.Lines); lines > maxPriceLines {
			return nil, fmt.Errorf("the price list has more than %d lines: ask for a shorter one", maxPriceLines)
		}
		var good []PriceLine
		for k, line := range l.Lines {
			if why := line.trouble(); why != "" {
				l.Bad = append(l.Bad, BadLine{k + 1, shorten(line.Name), why})
				continue
			}
			good = append(good, line)
		}
		l.Lines = good
	}
	if len(lists) == 0 || lines == 0 {
		return nil, errors.New("the price list holds no lines")
	}
	return lists, nil
}

// trouble says why a line cannot be used, empty for a sound one.
func (l *PriceLine) trouble() string {
	l.Name, l.Reference = strings.Join(strings.Fields(l.Name), " "), strings.TrimSpace(l.Reference)
	l.Part = strings.ToLower(strings.Join(strings.Fields(l.Part), " "))
	stock := material.StockOf(l.Kind)
	if l.Unit == "" {
		l.Unit = stock.Units[0].Name
	}
	switch {
	case l.Name == "" || utf8.RuneCountInString(l.Name) > material.MaxName || utf8.RuneCountInString(l.Reference) > material.MaxField ||
		utf8.RuneCountInString(l.Part) > material.MaxField:
		return fmt.Sprintf("a line needs a name of at most %d characters", material.MaxName)
	case !slices.Contains(material.Kinds(), l.Kind):
		return fmt.Sprintf("the kind %q is not known", shorten(l.Kind))
	case !slices.ContainsFunc(stock.Units, func(u material.Unit) bool { return u.Name == l.Unit }):
		return fmt.Sprintf("the unit %q is not used for this kind", shorten(l.Unit))
	case !(l.Pack > 0 && l.Pack <= maxMoney):
		return "a pack must hold more than 0"
	case !(l.Price > 0 && l.Price <= maxMoney):
		return "the price must be above 0 and at most a million"
	case !(l.Least >= 0 && l.Least <= maxMoney) || l.Stock != nil && !(*l.Stock >= 0 && *l.Stock <= 1e9):
		return "a minimum sale or a stock cannot be below 0"
	}
	return ""
}

// readPriceTable reads a list as CSV: a first row of headings, one line in each below.
func readPriceTable(ctx context.Context, data []byte) ([]PriceList, error) {
	first, _, _ := bytes.Cut(data, []byte("\n"))
	r := csv.NewReader(within(ctx, bytes.NewReader(data)))
	for _, c := range ";\t" {
		if bytes.ContainsRune(first, c) {
			r.Comma = c
		}
	}
	r.FieldsPerRecord = -1
	head, err := r.Read()
	if err != nil {
		return nil, errors.New("the price list is empty")
	}
	at := map[string]int{}
	for i, h := range head {
		at[strings.ToLower(strings.TrimSpace(h))] = i
	}
	for _, need := range []string{"seller", "name", "kind", "price"} {
		if _, there := at[need]; !there {
			return nil,
				fmt.Errorf("the price list has no column %q: its first row names the columns seller, year, name, reference, kind, unit, pack and price",
					need)
		}
	}
	var out []PriceList
	for n := 2; ; n++ {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return nil, fmt.Errorf("line %d of the price list cannot be read: check its quotation marks", n)
		}
		text := func(name string) string {
			if i, there := at[name]; there && i < len(row) {
				return strings.TrimSpace(row[i])
			}
			return ""
		}
		number := func(name string, otherwise float64) float64 {
			if text(name) == "" {
				return otherwise
			}
			v, err := strconv.ParseFloat(strings.Replace(text(name), ",", ".", 1), 64)
			if err != nil {
				return -1 // which no bound allows
			}
			return v
		}
		seller := text("seller")
		k := slices.IndexFunc(out, func(l PriceList) bool { return l.Seller == seller })
		if k < 0 {
			k = len(out)
			out = append(out, PriceList{Seller: seller, Year: int(number("year", 0)), Currency: text("currency"), Postage: number("postage", 0),
				LeastOrder: number("least order", 0), LeadDays: int(number("days", 0))})
		}
		l := PriceLine{Reference: text("reference"), Name: text("name"), Kind: text("kind"), Part: text("part"), Unit: text("unit"),
			Pack: number("pack", 1), Price: number("price", 0), Least: number("least", 0),
			Discontinued: strings.EqualFold(text("discontinued"), "yes")}
		if text("stock") != "" {
			v := number("stock", 0)
			l.Stock = &v
		}
		out[k].Lines = append(out[k].Lines, l)
	}
}

// FetchPrices asks a server for its price list, at most so long and so large. The error is
// a sentence.
func FetchPrices(ctx context.Context, address string) ([]PriceList, error) {
	if !strings.Contains(address, "://") {
		address = "http://" + address
	}
	ctx, stop := context.WithTimeout(ctx, fetchPatience)
	defer stop()
	ask, err := http.NewRequestWithContext(ctx, http.MethodGet, strings.TrimSuffix(address, "/")+"/prices.json", nil)
	if err != nil {
		return nil, fmt.Errorf("%q is not the address of a price list", shorten(address))
	}
	answer, err := http.DefaultClient.Do(ask)
	if err != nil {
		return nil, errors.New("the price list did not answer: check that its server is on and try again. Your saved prices are unchanged")
	}
	defer answer.Body.Close()
	if answer.StatusCode != http.StatusOK {
		return nil, fmt.Errorf("the price list answered %d: try again later. Your saved prices are unchanged", answer.StatusCode)
	}
	data, err := io.ReadAll(io.LimitReader(answer.Body, MaxPriceBytes+1))
	if err != nil {
		return nil, errors.New("the price list broke off, or took too long: try again. Your saved prices are unchanged")
	}
	return ReadPrices(ctx, data)
}
