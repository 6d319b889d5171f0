package wip

import (
	"fmt"
	"math/rand/v2"
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

func ExamplePiece_Cut() {
	first, rest, _ := Piece{Minutes: 90, Standard: 21_375, Agreed: 21_375}.Cut(10_000)
	fmt.Println(first, rest)
	// Output: {42 10000 10000} {48 11375 11375}
}
