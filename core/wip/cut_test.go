package wip

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
)

// Shares of 90 minutes by 100.00 and 113.75: 42.10… and 47.89…, so 42 and 48.
// Source: Hamilton's method of apportionment, computed by hand.
func TestAPortionIsCutAtAValue(t *testing.T) {
	first, rest, err := Piece{90, 24_000, 21_375}.Cut(10_000)
	if err != nil || first != (Piece{42, 11_228, 10_000}) || rest != (Piece{48, 12_772, 11_375}) {
		t.Errorf("%+v, %+v, %v", first, rest, err)
	}
	if whole := first.Plus(rest); whole != (Piece{90, 24_000, 21_375}) {
		t.Errorf("joined again: %+v", whole)
	}
}

func TestWhatIsCutAddsUp(t *testing.T) {
	random := rand.New(rand.NewPCG(9, 9))
	for range 50_000 {
		whole := Piece{random.IntN(600), random.Int64N(100_000), 1 + random.Int64N(100_000)}
		first, rest, err := whole.Cut(random.Int64N(whole.Agreed + 1))
		if err != nil || first.Plus(rest) != whole || first.Minutes < 0 || rest.Minutes < 0 || first.Standard < 0 || rest.Standard < 0 {
			t.Fatalf("%+v: %+v and %+v, %v", whole, first, rest, err)
		}
	}
}

// Source: Hamilton's method of apportionment, computed by hand: 213.75 in thirds is 71.25;
// 100.00 in thirds has a cent over, which the first gets; 7 minutes by 2:1 are 4.67 and 2.33.
func TestAPieceIsDividedAmongPayers(t *testing.T) {
	for _, c := range []struct {
		of      Piece
		weights []int64
		want    []Piece
	}{
		{Piece{90, 24_000, 21_375}, []int64{60, 40}, []Piece{{54, 14_400, 12_825}, {36, 9_600, 8_550}}},
		{Piece{90, 10_000, 21_375}, []int64{1, 1, 1}, []Piece{{30, 3_334, 7_125}, {30, 3_333, 7_125}, {30, 3_333, 7_125}}},
		{Piece{7, 0, 0}, []int64{2, 1}, []Piece{{5, 0, 0}, {2, 0, 0}}},
		{Piece{0, -1_000, -1_000}, []int64{1, 2}, []Piece{{0, -333, -333}, {0, -667, -667}}}, // a receipt that was paid back
	} {
		got, err := c.of.Among(c.weights)
		if err != nil || !slices.Equal(got, c.want) {
			t.Errorf("%+v by %v: %+v, %v, want %+v", c.of, c.weights, got, err, c.want)
		}
	}
	if _, err := (Piece{90, 1, 1}).Among(nil); err == nil {
		t.Error("divided among nobody")
	}
}

func ExamplePiece_Cut() {
	first, rest, _ := Piece{Minutes: 90, Standard: 21_375, Agreed: 21_375}.Cut(10_000)
	fmt.Println(first, rest)
	// Output: {42 10000 10000} {48 11375 11375}
}
