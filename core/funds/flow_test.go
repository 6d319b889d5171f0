package funds

import (
	"math/rand/v2"
	"testing"

	"dorvet/core/day"
)

// Source: common practice of money held in trust: what is on the account on a day is
// the most that can leave it then, and what has been promised for later stays.
func TestWhatIsFreeOnADay(t *testing.T) {
	on := func(d int) day.Day { return day.Of(2026, 12, d) }
	flow := []Change{{on(1), 10_000}, {on(10), -4_000}, {on(20), 3_000}}
	for _, c := range []struct {
		day  int
		free int64
	}{{1, 6_000}, {5, 6_000}, {10, 6_000}, {19, 6_000}, {20, 9_000}, {31, 9_000}} {
		if free := FreeOn(flow, on(c.day)); free != c.free {
			t.Errorf("on the %dth %d are free, not %d", c.day, free, c.free)
		}
	}
	if free := FreeOn(flow, on(1)-1); free != 0 {
		t.Errorf("%d are free before anything came", free)
	}
	sameDay := []Change{{on(1), 50}, {on(2), -50}, {on(2), 50}}
	if free := FreeOn(sameDay, on(1)); free != 50 {
		t.Errorf("out and in on one day leaves %d free, not 50: a day counts as a whole", free)
	}
	for _, c := range []struct {
		minor int64
		first int
		is    bool
	}{{6_000, 5, true}, {6_001, 20, true}, {9_000, 20, true}, {9_001, 0, false}} {
		if first, is := FirstDay(flow, c.minor, on(5)); is != c.is || is && first != on(c.first) {
			t.Errorf("%d can leave on %v, %v", c.minor, first, is)
		}
	}
}

// Property: taking what is free leaves no day below zero, and a unit more does.
func TestWhatIsFreeIsTheMost(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	lowest := func(flow []Change) (low int64) {
		for d := day.Day(0); d < 12; d++ {
			sum := int64(0)
			for _, c := range flow {
				if c.Day <= d {
					sum += c.Minor
				}
			}
			low = min(low, sum)
		}
		return low
	}
	for range 20_000 {
		flow := []Change{}
		for range random.IntN(8) {
			c := Change{day.Day(random.IntN(10)), random.Int64N(200) - 100}
			if lowest(append(flow, c)) == 0 {
				flow = append(flow, c)
			}
		}
		on := day.Day(random.IntN(11))
		free := FreeOn(flow, on)
		if low := lowest(append(flow, Change{on, -free})); low < 0 {
			t.Fatalf("%v: taking %d on %d leaves %d", flow, free, on, low)
		}
		if low := lowest(append(flow, Change{on, -free - 1})); low >= 0 || Shortest(append(flow, Change{on, -free - 1}), 0) != low {
			t.Fatalf("%v: more than %d can be taken on %d", flow, free, on)
		}
	}
}

// From memory: what was short once, and is made good, hinders nothing later.
func TestAShortfallMadeGoodIsPast(t *testing.T) {
	flow := []Change{{1, -50}, {3, 80}, {9, -20}}
	for from, least := range map[day.Day]int64{1: -50, 2: -50, 3: 10, 9: 10, 20: 10} {
		if got := Shortest(flow, from); got != least {
			t.Errorf("from day %d on %d, want %d", from, got, least)
		}
	}
	if got := Shortest([]Change{{1, -50}, {3, 80}}, 2); got != -50 {
		t.Errorf("on day 2 still %d", got)
	}
	if got := Shortest(nil, 1); got != 0 {
		t.Errorf("no changes leave %d", got)
	}
}
