package reports_test

import (
	"testing"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/app/reports"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
)

func TestAClientsUnbilledExpensesStandApart(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Study, "2026-11-30", "1:00") // 80.00
	_, err := timekeeping.RecordPurchase(t.Context(), a, apptest.Admin,
		timekeeping.TypedPurchase{PersonID: 2, CategoryID: 1, Day: day.Of(2026, 11, 20), Amount: "30", PaidBy: "firm",
			Shares: []timekeeping.TypedShare{{EngagementID: apptest.Study, Treatment: wip.Billable}}})
	if err != nil {
		t.Fatal(err)
	}
	list, err := reports.Clients(t.Context(), a, apptest.Admin.Actor, reports.ClientFilter{Standing: "all"}, 0, 1000)
	if err != nil || list.Clients[1].Unbilled[0].String() != "110.00" || list.Clients[1].Expenses[0].String() != "30.00" ||
		len(list.Clients[0].Expenses) != 0 {
		t.Errorf("%+v, %v", list, err)
	}
}
