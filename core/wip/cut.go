package wip

import "dorvet/core/money"

// Piece is a part of a portion: billed minutes, and both values in minor units.
type Piece struct {
	Minutes          int
	Standard, Agreed int64
}

// Cut divides a piece at an agreed value: that much, and the rest. The value is
// cut exactly; minutes and standard value are shared by the rule of splitting,
// not raised to increments again.
//
//	90 min worth 213.75, cut at 100.00: 42 min, and 48 min worth 113.75
func (p Piece) Cut(agreed int64) (first, rest Piece, err error) {
	weights := []int64{agreed, p.Agreed - agreed}
	minutes, err := money.Split(int64(p.Minutes), weights)
	if err != nil {
		return first, rest, err
	}
	standard, err := money.Split(p.Standard, weights)
	if err != nil {
		return first, rest, err
	}
	return Piece{int(minutes[0]), standard[0], agreed}, Piece{int(minutes[1]), standard[1], p.Agreed - agreed}, nil
}

// CutAt divides a piece at some of its minutes; values are shared by them.
func (p Piece) CutAt(minutes int) (first, rest Piece, err error) {
	weights := []int64{int64(minutes), int64(p.Minutes - minutes)}
	agreed, err := money.Split(p.Agreed, weights)
	if err != nil {
		return first, rest, err
	}
	standard, err := money.Split(p.Standard, weights)
	if err != nil {
		return first, rest, err
	}
	return Piece{minutes, standard[0], agreed[0]}, Piece{p.Minutes - minutes, standard[1], agreed[1]}, nil
}

// Among divides a piece by weights, one part for each: minutes and both values are shared by
// the rule of splitting.
//
//	90 min worth 213.75 by 60:40: 54 min worth 128.25, 36 min worth 85.50
func (p Piece) Among(weights []int64) ([]Piece, error) {
	minutes, err := money.Split(int64(p.Minutes), weights)
	if err != nil {
		return nil, err
	}
	standard, err := money.Split(p.Standard, weights)
	if err != nil {
		return nil, err
	}
	agreed, err := money.Split(p.Agreed, weights)
	parts := make([]Piece, len(agreed))
	for i := range parts {
		parts[i] = Piece{int(minutes[i]), standard[i], agreed[i]}
	}
	return parts, err
}

// Plus joins two pieces that were one.
func (p Piece) Plus(q Piece) Piece {
	return Piece{p.Minutes + q.Minutes, p.Standard + q.Standard, p.Agreed + q.Agreed}
}
