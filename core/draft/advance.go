package draft

import "dorvet/core/invoice"

// takeBack lets advances come back, each as far as its engagement brings something to the
// net: what was invoiced ahead is never invoiced twice, and no draft falls below zero.
func (c *calculation) takeBack() error {
	if len(c.asked.Advances) == 0 {
		return nil
	}
	totals, err := c.totals(0, 0)
	if err != nil {
		return err
	}
	room := map[int64]int64{}
	for i, brought := range totals.Brought(c.invoice) {
		room[c.draft.Lines[i].Engagement] += brought
	}
	for i, advance := range c.asked.Advances {
		if back := min(advance.Left, room[advance.Engagement]); back > 0 {
			room[advance.Engagement] -= back
			c.add(Line{Of: i, Back: true, Engagement: advance.Engagement, Amount: -back}, invoice.Advance, advance.TaxCode)
		}
	}
	return nil
}

// takeLessBack takes less of advances back that are on the draft already, the last first,
// where its net would fall below zero. A line of nothing is left for the caller to drop.
func (c *calculation) takeLessBack() error {
	last := len(c.draft.Lines) - 1
	for ; last >= 0 && !c.asked.Items[c.draft.Lines[last].Of].TakesBack; last-- {
	}
	if last < 0 {
		return nil
	}
	totals, err := c.totals(0, 0)
	if err != nil {
		return err
	}
	for at := last; at >= 0 && totals.Net.Minor < 0; at-- {
		line := &c.draft.Lines[at]
		if !c.asked.Items[line.Of].TakesBack {
			continue
		}
		less := min(-totals.Net.Minor, -line.Amount)
		totals.Net.Minor += less
		line.Amount += less
		c.invoice[at].Amount.Minor += less
	}
	return nil
}
