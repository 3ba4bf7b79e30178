package shelf

import (
	"context"
	"fmt"
	"strings"
	"time"

	"lampfern/core/words"
	"lampfern/exchange"
	"lampfern/store"
)

// FetchPrices asks the seller's server for its lists and keeps them.
func (s *Keeper) FetchPrices(ctx context.Context) (said string, err error) {
	if s.PricesAddress == "" {
		return "", words.Refuse("No price list is set up: start the program with --prices and its address, or import a list as CSV.")
	}
	lists, err := exchange.FetchPrices(ctx, s.PricesAddress)
	if err != nil {
		return "", words.Refuse("%s.", words.Capital(err.Error()))
	}
	err = s.Store.Write(ctx, func(tx store.Tx) (err error) {
		said, err = TakePrices(tx, lists, time.Now())
		return err
	})
	return said, err
}

// TakePrices puts lists in place of those of the same sellers, all or none, and says
// what came of it.
func TakePrices(tx store.Tx, lists []exchange.PriceList, now time.Time) (said string, err error) {
	lines, bad, gone, why := 0, 0, 0, ""
	for _, l := range lists {
		var rows []store.Price
		for _, one := range l.Lines {
			rows = append(rows, store.Price{Seller: l.Seller, Reference: one.Reference, Name: one.Name, Kind: one.Kind, Part: one.Part,
				Unit: one.Unit, Pack: one.Pack, Price: one.Price, Currency: l.Currency,
				Least: one.Least, Stock: one.Stock, Lots: strings.Join(one.Lots, ", "), Discontinued: one.Discontinued, Postage: l.Postage,
				LeastOrder: l.LeastOrder, LeadDays: l.LeadDays, Year: l.Year, ReadAt: now})
		}
		n, err := tx.PutPrices(l.Seller, rows)
		if err != nil {
			return "", fmt.Errorf("keeping the prices of %s: %w", l.Seller, err)
		}
		lines, bad, gone = lines+len(rows), bad+len(l.Bad), gone+n
		if len(l.Bad) > 0 {
			why = fmt.Sprintf("%s: %s", l.Bad[0].Text, l.Bad[0].Reason)
		}
	}
	said = fmt.Sprintf("%s of %s saved.", words.Capital(words.Plural(lines, "price", "prices")),
		words.Plural(len(lists), "seller is", "sellers are"))
	if gone > 0 {
		said += fmt.Sprintf(" %s no longer in the newest list.", words.Capital(words.Plural(gone, "thing is", "things are")))
	}
	if bad > 0 {
		said += fmt.Sprintf(" %s left out, such as %s.", words.Capital(words.Plural(bad, "line was", "lines were")), why)
	}
	return said, nil
}
