package worktime_test

import (
	"fmt"
	"time"

	"dorvet/core/worktime"
)

// A timer that ran past midnight gives each day its minutes.
func ExampleByDay() {
	run := worktime.Run{Began: time.Date(2026, 11, 30, 23, 30, 0, 0, time.UTC), Ended: time.Date(2026, 12, 1, 0, 15, 30, 0, time.UTC)}
	for _, d := range worktime.ByDay([]worktime.Run{run}, time.UTC) {
		fmt.Println(d.Day, worktime.Clock(d.Minutes))
	}
	// Output:
	// 2026-11-30 0:30
	// 2026-12-01 0:16
}
