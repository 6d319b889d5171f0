package delivery_test

import (
	"strings"
	"testing"

	core "dorvet/core/delivery"

	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// draft is a draft over two hours of an engagement.
func draft(t *testing.T, a *app.App, engagementID int64) drafts.Edit {
	t.Helper()
	apptest.Record(t, a, engagementID, "2026-11-30", "2:00")
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: apptest.Today, Dated: apptest.Today, EngagementIDs: []int64{engagementID}})
	must(t, err)
	inv, err := invoices.One(t.Context(), a, apptest.Admin.Actor, made[0].ID)
	must(t, err)
	return drafts.Edit{ID: inv.ID, Version: inv.Version}
}

func now(t *testing.T, a *app.App, id int64) *invoices.Invoice {
	t.Helper()
	inv, err := invoices.One(t.Context(), a, apptest.Admin.Actor, id)
	must(t, err)
	return inv
}

// One act issues a draft and sends it, or does neither; it stands as one in the history.
func TestADraftIsIssuedAndSentInOneAct(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	apptest.Set(t, a, "clients", 1, "mail", "")
	edit := draft(t, a, apptest.Survey)
	if _, err := delivery.IssueAndSend(t.Context(), a, apptest.Admin, edit); apptest.RefusalOf(t, err) == nil ||
		!strings.Contains(err.Error(), "issue it alone") {
		t.Errorf("%v", err)
	}
	if inv := now(t, a, edit.ID); inv.State != "draft" || inv.Number != "" {
		t.Errorf("half of it was done: %s %s", inv.State, inv.Number)
	}
	contact(t, a, "A", "Ann", "ann@alder.example")
	done, err := delivery.IssueAndSend(t.Context(), a, apptest.Admin, edit)
	must(t, err)
	deliver(t, a)
	if inv := now(t, a, edit.ID); inv.State != "issued" || inv.Handed != "taken" || len(mails.All) != 1 {
		t.Errorf("%s %s, %d mails", inv.State, inv.Handed, len(mails.All))
	}
	act, err := store.Get[store.Act](a.Read(t.Context(), apptest.Admin.Actor), done.ActID)
	if must(t, err); act.Summary != "Issued N1 over 246.00 EUR, sent N1 to ann@alder.example" {
		t.Errorf("%q", act.Summary)
	}
	apptest.Whole(t, a)
}

// Many are issued, and those that were issued are handed over, those of one client in one letter where it is so set; what can't go stays
// issued, and is told.
func TestManyAreIssuedAndSentInOneJob(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	contact(t, a, "A", "Ann", "ann@alder.example")
	apptest.Set(t, a, "clients", 1, "letters", "together")
	apptest.Set(t, a, "clients", 2, "mail", "")
	edits := []drafts.Edit{draft(t, a, apptest.Survey), draft(t, a, apptest.Advice), draft(t, a, apptest.Study)}
	job, err := delivery.BeginIssueAndSend(t.Context(), a, apptest.Admin, edits)
	must(t, err)
	a.Jobs.Wait()
	done, err := a.Jobs.Read(t.Context(), a, apptest.Admin.Actor, job.ID)
	must(t, err)
	deliver(t, a)
	if !strings.HasPrefix(done.Said, "Issued 3 invoices. 1 letter by mail.") || !strings.Contains(done.Said, "Nobody at Birch has a mail address") {
		t.Errorf("%s", done.Said)
	}
	if len(mails.All) != 1 || !strings.Contains(mails.All[0].Subject, "2 invoices") {
		t.Errorf("%+v", mails.All)
	}
	page, err := invoices.RegisterPage(t.Context(), a, apptest.Admin.Actor, invoices.Filter{Handed: "not_yet"}, 0, 10)
	must(t, err)
	if want := (store.HandedCounts{NotYet: 1, Out: 2, Unopened: 2}); page.Handed != want || page.Total != 1 {
		t.Errorf("%+v of %d", page.Handed, page.Total)
	}
	apptest.Whole(t, a)
}

// What was issued before deliveries were noted stays known as that when a letter of it is called back.
func TestWhatWasIssuedBeforeStaysKnownAsThat(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Mail(a)
	contact(t, a, "A", "Ann", "ann@alder.example")
	inv := apptest.Issued(t, a, apptest.Survey)
	must(t, a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
		return tx.SQL(t).Exec("UPDATE invoices SET handed = 'before', handed_before = TRUE").Error
	}))
	_, err := delivery.Send(t.Context(), a, apptest.Admin, inv.ID, delivery.Handover{})
	must(t, err)
	s := standing(t, a, inv.ID)
	if s.Handed != "queued" {
		t.Errorf("%s", s.Handed)
	}
	must(t, delivery.CallBack(t.Context(), a, apptest.Admin, s.Handings[0].ID))
	if s := standing(t, a, inv.ID); s.Handed != core.Before {
		t.Errorf("%q", s.Handed)
	}
	apptest.Whole(t, a)
}

// A file of one's own goes along; somebody else's, and one that is not there, do not.
func TestOnlyOnesOwnFilesGoAlong(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	contact(t, a, "A", "Ann", "ann@alder.example")
	inv := apptest.Issued(t, a, apptest.Survey)
	keep := func(r app.Request, content string) string {
		t.Helper()
		digest, err := app.Do(t.Context(), a, r, "keep file", content, func(tx *app.Tx) (string, error) {
			tx.Describe(nil, nil, "Kept a file")
			return tx.KeepUpload(a, []byte(content), "application/pdf")
		})
		must(t, err)
		return digest
	}
	own := keep(apptest.Admin, "%PDF own")
	other := keep(app.Request{Actor: app.Actor{PersonID: 2, Role: app.Lead}}, "%PDF other")
	with := func(digest string) error {
		_, err := delivery.Send(t.Context(), a, apptest.Admin, inv.ID, delivery.Handover{Attach: &delivery.Attach{PDF: true,
			Others: []delivery.OtherFile{{Digest: digest, Name: "../map.pdf"}}}})
		return err
	}
	if apptest.RefusalOf(t, with(other)) == nil || apptest.RefusalOf(t, with(strings.Repeat("0", 64))) == nil {
		t.Error("somebody else's file goes along")
	}
	must(t, with(own))
	deliver(t, a)
	if files := mails.All[0].Files; len(files) != 2 || string(files[1].Content) != "%PDF own" || strings.ContainsAny(files[1].Name, "/") {
		t.Errorf("%+v", files)
	}
}
