package money

import (
	"errors"
	"fmt"
	"sort"
)

// Split divides whole units over weights by largest remainder (Hamilton's
// method of apportionment): see [Amount.Split].
func Split(units int64, weights []int64) ([]int64, error) {
	if len(weights) == 0 {
		return nil, errors.New("there is nothing to share the amount over")
	}
	total := int64(0)
	for i, w := range weights {
		if w < 0 {
			return nil, fmt.Errorf("share %d has the negative weight %d: weights are zero or more", i+1, w)
		}
		var err error
		if total, err = add(total, w); err != nil {
			return nil, err
		}
	}
	if total == 0 {
		weights, total = equalWeights(len(weights)), int64(len(weights))
	}
	return largestRemainder(units, weights, total)
}

func equalWeights(n int) []int64 {
	weights := make([]int64, n)
	for i := range weights {
		weights[i] = 1
	}
	return weights
}

func largestRemainder(units int64, weights []int64, total int64) ([]int64, error) {
	shares := make([]int64, len(weights))
	remainders := make([]uint64, len(weights))
	left := units
	for i, w := range weights {
		share, remainder, err := mulCut(units, w, total)
		if err != nil {
			return nil, err
		}
		shares[i], remainders[i] = share, remainder
		left -= share
	}
	order := make([]int, len(weights))
	for i := range order {
		order[i] = i
	}
	sort.SliceStable(order, func(a, b int) bool { return remainders[order[a]] > remainders[order[b]] })
	unit := int64(1)
	if left < 0 {
		unit = -1
	}
	for i := 0; left != 0; i++ {
		shares[order[i]] += unit
		left -= unit
	}
	return shares, nil
}
