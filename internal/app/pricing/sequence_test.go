package pricing_test

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"math/rand/v2"
	"regexp"
	"slices"
	"testing"

	core "dorvet/core/pricing"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/pricing"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

var (
	secretIn = regexp.MustCompile(`/proposal#(\S+)`)
	codeIn   = regexp.MustCompile(`code is (\d{6})`)
	errUndo  = errors.New("take it back")
)

// user prices, sends and answers proposals in any order and at any wrong moment.
type user struct {
	*rand.Rand
	a       *app.App
	ids     []int64
	secrets []string
	mails   *apptest.Letters
}

func (u *user) proposal(ctx context.Context) (*pricing.Proposal, error) {
	if len(u.ids) == 0 {
		return nil, app.Refuse(app.NotFound, "none")
	}
	return pricing.One(ctx, u.a, apptest.Admin.Actor, u.ids[u.IntN(len(u.ids))])
}

func (u *user) secret() string {
	if len(u.secrets) == 0 {
		return "none"
	}
	return u.secrets[u.IntN(len(u.secrets))]
}

// change types something anew: a cell, a rule, a discount, a tier more.
func (u *user) change(t *pricing.TypedProposal) {
	if len(t.Lines) == 0 {
		grid(t)
		return
	}
	l := &t.Lines[u.IntN(len(t.Lines))]
	switch u.IntN(6) {
	case 0:
		l.Cells[u.IntN(len(l.Cells))] = []string{"x", "", "optional", fmt.Sprint(1 + u.IntN(5000)), "optional 3 ?"}[u.IntN(5)]
	case 1:
		l.Said = []string{"on acceptance", "each month, on the 31st, prorated", "half deposit, the rest by hand", "by hand",
			"each week, 9 times", "12.5 per sample; each quarter, in arrears, until the end of the term",
			"hourly at 99.99; as worked"}[u.IntN(7)]
	case 2:
		t.Discount = []string{"", "7.5 %", "33.33", "100 %"}[u.IntN(4)]
	case 3:
		l.Work = []string{"", "Apart"}[u.IntN(2)]
	case 4:
		t.Term = []string{"", "5", "12", "30"}[u.IntN(4)]
	case 5:
		t.Starts = []string{"", "2026-10-31", "2027-02-28"}[u.IntN(3)]
	}
}

func (u *user) act(ctx context.Context) error {
	p, missing := u.proposal(ctx)
	chosen := pricing.Chosen{Tier: u.IntN(3), Options: []int{u.IntN(6), u.IntN(6)},
		Quantities: map[string]string{"2": fmt.Sprint(u.IntN(4))}}
	n := u.IntN(12)
	if n > 0 && n < 10 && missing != nil {
		return missing
	}
	switch n {
	case 0:
		made, err := pricing.Begin(ctx, u.a, apptest.Admin,
			pricing.Begun{ClientID: int64(u.IntN(3)), Prospect: []string{"", "", "New one"}[u.IntN(3)]})
		if err == nil {
			u.ids = append(u.ids, made.ID)
		}
		return err
	case 1, 2, 3, 4:
		typed := p.Grid.Typed
		u.change(&typed)
		_, err := pricing.Save(ctx, u.a, apptest.Admin, pricing.Saving{ID: p.ID, Version: p.Version, Typed: typed})
		return err
	case 5, 6:
		_, err := pricing.Send(ctx, u.a, apptest.Admin, p.ID, pricing.Sending{Version: p.Version, Name: "Sig", Mail: signer, Mailed: true})
		if err == nil {
			if err = correspondence.Deliver(ctx, u.a); err == nil {
				u.secrets = append(u.secrets, secretIn.FindStringSubmatch(u.mails.All[len(u.mails.All)-1].Body)[1])
			}
		}
		return err
	case 7:
		_, err := pricing.Record(ctx, u.a, apptest.Admin, p.ID,
			pricing.ByHand{Version: p.Version, Name: "Sig", Day: apptest.Today.AddDays(-u.IntN(40)), Evidence: "said so", Chosen: chosen})
		return err
	case 8:
		_, err := pricing.Withdraw(ctx, u.a, apptest.Admin, p.ID, p.Version)
		return err
	case 9:
		made, err := pricing.Copy(ctx, u.a, apptest.Admin, p.ID, pricing.Copying{Replaces: u.IntN(2) == 0})
		if err == nil {
			u.ids = append(u.ids, made.ID)
		}
		return err
	case 10:
		return u.sign(ctx, chosen)
	}
	return pricing.Decline(ctx, u.a, u.secret(), "", "no")
}

func (u *user) sign(ctx context.Context, chosen pricing.Chosen) error {
	secret := u.secret()
	if err := pricing.SendCode(ctx, u.a, secret); err != nil {
		return err
	}
	code := codeIn.FindStringSubmatch(u.mails.All[len(u.mails.All)-1].Body)[1]
	return pricing.Accept(ctx, u.a, secret, "", pricing.Signing{Chosen: chosen, Name: "Sig Ner", Code: code})
}

// Property: everything adds up after every act, what is refused is refused in
// words, and an acceptance that was kept is never another afterwards.
func TestProposalsAddUpAfterRandomActs(t *testing.T) {
	acts := 1200
	if testing.Short() {
		acts = 200
	}
	a := apptest.Firm(t)
	u := &user{Rand: rand.New(rand.NewPCG(9, 10)), a: a, mails: apptest.Mail(a)}
	done, agreed := 0, map[int64]string{}
	for n := range acts {
		err := u.act(t.Context())
		var refusal *app.Refusal
		if err != nil && !errors.As(err, &refusal) {
			t.Fatalf("act %d: %v", n, err)
		}
		if err == nil {
			done++
		}
		if n%5 == 0 {
			apptest.Whole(t, a)
		}
	}
	apptest.Whole(t, a)
	list, err := pricing.Desk(t.Context(), a, apptest.Admin.Actor, 0)
	if err != nil {
		t.Fatal(err)
	}
	for _, row := range list.Rows {
		if row.State == core.Accepted {
			answer, err := store.AnswerOf(a.Store.Read(t.Context(), store.Everything), row.ID)
			if err != nil || answer == nil {
				t.Fatalf("%d has no answer, %v", row.ID, err)
			}
			agreed[row.ID] = answer.Content
		}
	}
	if done < acts/3 || len(agreed) < 3 {
		t.Errorf("only %d of %d acts were done, %d proposals accepted", done, acts, len(agreed))
	}
	err = a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
		return tx.SQL(t).Exec("UPDATE proposal_answers SET content = '{}' WHERE proposal_id = ?",
			slices.Min(slices.Collect(maps.Keys(agreed)))).Error
	})
	if err == nil {
		t.Error("an answer was changed")
	}
}

// Every rule about proposals is found broken when it is broken by hand.
func TestWhatDoesNotAddUpOfAProposalIsFound(t *testing.T) {
	a, p := begun(t)
	if _, err := pricing.Record(t.Context(), a, apptest.Admin, p.ID,
		pricing.ByHand{Version: p.Version, Name: "Sig", Day: apptest.Today, Evidence: "said so",
			Chosen: pricing.Chosen{Tier: 2}}); err != nil {
		t.Fatal(err)
	}
	other, err := pricing.Begin(t.Context(), a, apptest.Admin, pricing.Begun{ClientID: 2})
	if err != nil {
		t.Fatal(err)
	}
	apptest.Whole(t, a)
	for _, broken := range []string{
		"UPDATE charges SET amount = amount + 1 WHERE kind = 'recurring' AND id = (SELECT MAX(id) FROM charges WHERE kind = 'recurring')",
		"UPDATE charges SET amount = amount - 1 WHERE kind = 'deposit'",
		"DELETE FROM charges WHERE id = (SELECT MIN(id) FROM charges WHERE amount > 0)",
		"UPDATE proposals SET state = 'sent' WHERE state = 'accepted'",
		"UPDATE engagements SET proposal_id = NULL WHERE proposal_id IS NOT NULL",
		fmt.Sprintf("UPDATE proposals SET state = 'accepted' WHERE id = %d", other.ID),
		fmt.Sprintf("UPDATE proposals SET draft = 9 WHERE id = %d", other.ID),
	} {
		found := []string{}
		err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
			if err := tx.SQL(t).Exec(broken).Error; err != nil {
				return err
			}
			breaches, err := a.Store.Check(tx)
			for _, breach := range breaches {
				found = append(found, fmt.Sprint(breach))
			}
			return errors.Join(err, errUndo)
		})
		if !errors.Is(err, errUndo) || len(found) == 0 {
			t.Errorf("%s: found %v, %v", broken, found, err)
		}
	}
	apptest.Whole(t, a)
}
