package expense_test

import (
	"fmt"

	"dorvet/core/expense"
	"dorvet/core/money"
	"dorvet/core/wip"
)

// A purchase of 250.00 is shared out: 80.00 and 65.00 leave 105.00 for the next.
func Example() {
	eur := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }
	left, _ := expense.Left(eur(250_00), []money.Amount{eur(80_00), eur(65_00)})
	fmt.Println(left)
	fmt.Println(expense.AddUp(eur(250_00), []money.Amount{eur(80_00), eur(65_00), eur(100_00)}))
	share, _ := expense.Value(expense.Valued{Cost: eur(80_00), Markup: 10_0000, Treatment: wip.Billable})
	fmt.Println(share.Agreed)
	// Output:
	// 105.00
	// 5.00 of 250.00 is not shared out yet: add a share, or raise one
	// 88.00
}
