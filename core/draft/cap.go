package draft

import (
	"cmp"
	"slices"

	"dorvet/core/invoice"
	"dorvet/core/money"
)

// Fits says how much of each item stands on a draft under the caps of its engagement: all
// of what can't be cut, and of work the oldest first. Fees count after their discount.
func Fits(asked Asked) ([]int64, error) {
	fits := make([]int64, len(asked.Items))
	for i, item := range asked.Items {
		fits[i] = item.Amount
	}
	if len(asked.Caps) == 0 {
		return fits, nil
	}
	order := inOrder(asked.Items)
	question := invoice.Asked{Currency: asked.Currency, Discount: asked.Terms.Discount, Lines: make([]invoice.Line, len(order))}
	for place, at := range order {
		item := asked.Items[at]
		question.Lines[place] = invoice.Line{Kind: item.Kind, Amount: money.Amount{Minor: item.Amount, Currency: asked.Currency}}
	}
	values, err := invoice.UnderCaps(question, capsOn(asked, order))
	if err != nil {
		return nil, err
	}
	for place, at := range order {
		fits[at] = values[place]
	}
	return fits, nil
}

// capsOn are the caps of a draft, with the places of the lines that each is on.
func capsOn(asked Asked, order []int) []invoice.Cap {
	engagements := []int64{}
	for engagement := range asked.Caps {
		engagements = append(engagements, engagement)
	}
	slices.Sort(engagements)
	caps := make([]invoice.Cap, 0, len(engagements))
	for _, engagement := range engagements {
		one := invoice.Cap{Left: asked.Caps[engagement]}
		for place, at := range order {
			switch item := asked.Items[at]; {
			case item.Engagement != engagement || !item.underCap():
			case !item.Cuts:
				one.Fixed = append(one.Fixed, place)
			case item.Amount > 0:
				one.Lines = append(one.Lines, place)
			}
		}
		slices.SortStableFunc(one.Lines, func(a, b int) int { return cmp.Compare(asked.Items[order[a]].Day, asked.Items[order[b]].Day) })
		caps = append(caps, one)
	}
	return caps
}

// inOrder are the places of items in the order in which their lines stand: as somebody
// put them, else by engagement and day.
func inOrder(items []Item) []int {
	order := make([]int, len(items))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		one, other := items[a], items[b]
		return cmp.Or(cmp.Compare(one.Position, other.Position), cmp.Compare(one.Engagement, other.Engagement),
			cmp.Compare(one.Day, other.Day))
	})
	return order
}
