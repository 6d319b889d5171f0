package money_test

import (
	"fmt"

	"dorvet/core/money"
)

func ExampleAmount_Split() {
	parts, _ := money.Amount{Minor: 10000, Currency: "EUR"}.Split([]int64{1, 1, 1})
	fmt.Println(parts)
	// Output: [33.34 33.33 33.33]
}

func ExampleRate_ForMinutes() {
	value, _ := money.Rate(142_5000).ForMinutes(90, 0, "EUR")
	fmt.Println(value)
	// Output: 213.75
}
