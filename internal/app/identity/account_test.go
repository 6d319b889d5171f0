package identity_test

import (
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/app/identity"
	"dorvet/internal/app/registry"
	"dorvet/internal/apptest"
	"dorvet/internal/store"

	"golang.org/x/crypto/argon2"
)

// home is where people sign in from.
var home = identity.Whence{Address: "192.0.2.1"}

// proved is a member of staff who has just typed their password again.
var proved = app.Request{Actor: app.Actor{PersonID: 2, Role: app.Staff, Proved: true}}

// session begins one for a person.
func session(t *testing.T, a *app.App, person int64) int64 {
	t.Helper()
	id, _, err := identity.Begin(t.Context(), a, person, identity.Whence{Address: "192.0.2.1"})
	if err != nil {
		t.Fatal(err)
	}
	return id
}

func TestWhoLeftIsNobody(t *testing.T) {
	a := apptest.Firm(t)
	id := session(t, a, 2)
	if _, err := identity.Actor(t.Context(), a, 2, id); err != nil {
		t.Fatal(err)
	}
	if err := registry.SetActive(t.Context(), a, apptest.Admin, "people",
		registry.ExpectedVersion{ID: 2, Version: apptest.Sheet(t, a, "people", 2).Version}, false); err != nil {
		t.Fatal(err)
	}
	if _, err := identity.Actor(t.Context(), a, 2, id); err == nil {
		t.Error("still somebody")
	}
	if _, err := identity.SignIn(t.Context(), a, home, "sam@firm.example", apptest.Password, ""); err == nil {
		t.Error("still signs in")
	}
}

func TestALinkWorksOnceAndEndsOldSessions(t *testing.T) {
	a := apptest.Firm(t)
	old := session(t, a, 2)
	lost, err := identity.Invite(t.Context(), a, apptest.Admin, 2)
	if err != nil {
		t.Fatal(err)
	}
	link, err := identity.Invite(t.Context(), a, apptest.Admin, 2)
	if err != nil || len(link.Secret) < 22 { // 128 bits are 22 letters of base64
		t.Fatalf("%+v, %v", link, err)
	}
	if _, err := identity.Accept(t.Context(), a, lost.Secret, "a new password"); err == nil {
		t.Error("an earlier link still works")
	}
	if _, err := identity.Accept(t.Context(), a, link.Secret, "short"); apptest.RefusalOf(t, err) == nil ||
		apptest.RefusalOf(t, err).Field != "password" {
		t.Errorf("%v", err)
	}
	if _, err := identity.Accept(t.Context(), a, link.Secret, "a new password"); err != nil {
		t.Fatal(err)
	}
	if _, err := identity.Accept(t.Context(), a, link.Secret, "another password"); err == nil {
		t.Error("the link worked twice")
	}
	if _, err := identity.SignIn(t.Context(), a, home, "sam@firm.example", "a new password", ""); err != nil {
		t.Error(err)
	}
	if _, err := identity.Actor(t.Context(), a, 2, old); err == nil {
		t.Error("a session from before goes on")
	}
	kept := 0
	if err := a.Store.Read(t.Context(), store.Everything).SQL(t).Raw("SELECT COUNT(*) FROM account_links WHERE digest = ?",
		link.Secret).Scan(&kept).Error; err != nil || kept != 0 {
		t.Error("the secret itself is kept")
	}
}

func TestALinkExpires(t *testing.T) {
	a := apptest.Firm(t)
	link, err := identity.Invite(t.Context(), a, apptest.Admin, 2)
	if err != nil {
		t.Fatal(err)
	}
	a.Clock = app.PinnedClock{Date: apptest.Today, At: link.Expires.Add(time.Second)}
	if _, err := identity.Accept(t.Context(), a, link.Secret, "a new password"); err == nil {
		t.Error("a link of last week works")
	}
}

func TestASecondFactorIsAskedForAndItsCodesWorkOnce(t *testing.T) {
	a := apptest.Firm(t)
	secret, err := identity.NewSecret()
	if err != nil {
		t.Fatal(err)
	}
	at := time.Unix(1_800_000_000, 0)
	tick := func(seconds int) {
		a.Clock = app.PinnedClock{Date: apptest.Today, At: at.Add(time.Duration(seconds) * time.Second)}
	}
	tick(0)
	if _, err := identity.SetSecondFactor(t.Context(), a, proved, secret, "000000x"); err == nil {
		t.Error("a wrong code proves the device")
	}
	if _, err := identity.SetSecondFactor(t.Context(), a, proved, secret, identity.CodeAt(secret, a.Clock.Now())); err != nil {
		t.Fatal(err)
	}
	signIn := func(code string) error {
		_, err := identity.SignIn(t.Context(), a, home, "sam@firm.example", apptest.Password, code)
		return err
	}
	tick(60)
	if err := signIn(""); !errors.Is(err, identity.ErrCodeNeeded) {
		t.Errorf("%v", err)
	}
	code := identity.CodeAt(secret, a.Clock.Now())
	if err := signIn(code); err != nil {
		t.Error(err)
	}
	if err := signIn(code); err == nil {
		t.Error("a code works twice")
	}
	if err := identity.RemoveSecondFactor(t.Context(), a, apptest.Staff, 2); err == nil {
		t.Error("removed without the password")
	}
	if err := identity.RemoveSecondFactor(t.Context(), a, proved, 2); err != nil || signIn("") != nil {
		t.Errorf("%v", err)
	}
}

func TestSessionsAreListedAndEnded(t *testing.T) {
	a := apptest.Firm(t)
	first, second, others := session(t, a, 2), session(t, a, 2), session(t, a, 3)
	list, err := identity.Sessions(t.Context(), a, apptest.Staff.Actor, second)
	if err != nil || len(list) != 2 || !list[0].This || list[1].ID != first {
		t.Fatalf("%+v, %v", list, err)
	}
	if err := identity.EndSession(t.Context(), a, apptest.Staff, others); err == nil {
		t.Error("ended somebody else's")
	}
	if err := identity.EndSession(t.Context(), a, apptest.Staff, first); err != nil {
		t.Fatal(err)
	}
	if _, err := identity.Actor(t.Context(), a, 2, first); err == nil {
		t.Error("an ended session goes on")
	}
	third := session(t, a, 2)
	if err := identity.ChangePassword(t.Context(), a, apptest.Staff, identity.Whence{Session: second}, "wrong",
		"a new password"); apptest.RefusalOf(t, err).Field != "old" {
		t.Errorf("%v", err)
	}
	if err := identity.ChangePassword(t.Context(), a, apptest.Staff, identity.Whence{Session: second}, apptest.Password,
		"a new password"); err != nil {
		t.Fatal(err)
	}
	for id, ended := range map[int64]bool{second: false, third: true} {
		if _, err := identity.Actor(t.Context(), a, 2, id); (err != nil) != ended {
			t.Errorf("after a new password session %d: %v", id, err)
		}
	}
}

// A stand-in leads for somebody who is away, from the first day to the last.
func TestAStandInLeadsForWhoIsAway(t *testing.T) {
	a := apptest.Firm(t)
	id := session(t, a, 2)
	for field, value := range map[string]string{"stand_in": "SS", "stand_in_from": "2026-12-02", "stand_in_to": "2026-12-04"} {
		apptest.Set(t, a, "people", 3, field, value)
	}
	for offset, leads := range []bool{false, true, true, true, false} {
		a.Clock = app.PinnedClock{Date: apptest.Today.AddDays(offset)}
		actor, err := identity.Actor(t.Context(), a, 2, id)
		if err != nil {
			t.Fatal(err)
		}
		rows, err := registry.List(t.Context(), a, actor, "engagements", registry.ListFilter{})
		if err != nil || (actor.Role == app.Lead) != leads || (len(rows) == 1) != leads {
			t.Errorf("on day %d: %+v sees %d, %v", offset, actor, len(rows), err)
		}
	}
}

// A password that was hashed at another cost still opens the door: raising the cost
// locks nobody out.
func TestAPasswordHashedAtAnotherCostIsKnown(t *testing.T) {
	a := apptest.Firm(t)
	for _, cost := range []struct {
		kibibytes, passes uint32
		lanes             uint8
	}{{8 * 1024, 1, 1}, {32 * 1024, 3, 2}} {
		salt, text := []byte("sixteen bytes ..")[:16], base64.RawStdEncoding
		key := argon2.IDKey([]byte("an old password"), salt, cost.passes, cost.kibibytes, cost.lanes, 32)
		hash := fmt.Sprintf("$argon2id$v=19$m=%d,t=%d,p=%d$%s$%s", cost.kibibytes, cost.passes, cost.lanes, text.EncodeToString(salt),
			text.EncodeToString(key))
		if err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
			return tx.SQL(t).Exec("UPDATE people SET password_hash = ? WHERE id = 2", hash).Error
		}); err != nil {
			t.Fatal(err)
		}
		if _, err := identity.SignIn(t.Context(), a, home, "sam@firm.example", "an old password", ""); err != nil {
			t.Errorf("%+v: %v", cost, err)
		}
		if _, err := identity.SignIn(t.Context(), a, home, "sam@firm.example", "another password", ""); err == nil {
			t.Errorf("%+v: any password is taken", cost)
		}
	}
}

func TestSignInDoesNotSayWhichWasWrong(t *testing.T) {
	a := apptest.Firm(t)
	if person, err := identity.SignIn(t.Context(), a, home, " ADA@firm.example", "open sesame now", ""); err != nil || person != 1 {
		t.Errorf("%+v, %v", person, err)
	}
	sentences := map[string]bool{}
	for _, c := range [][2]string{{"ada@firm.example", "wrong"}, {"nobody@firm.example", "open sesame now"}, {"ada@firm.example", ""}} {
		_, err := identity.SignIn(t.Context(), a, home, c[0], c[1], "")
		var refusal *app.Refusal
		if !errors.As(err, &refusal) || refusal.Kind != app.Forbidden {
			t.Fatalf("%v: %v", c, err)
		}
		sentences[refusal.Sentence] = true
	}
	if len(sentences) != 1 {
		t.Errorf("the answers differ: %v", sentences)
	}
}

func TestPasswordsAreKeptAsArgon2idOfTheirOwnSalt(t *testing.T) {
	first, err := identity.HashPassword("the same")
	if err != nil {
		t.Fatal(err)
	}
	second, _ := identity.HashPassword("the same")
	if first == second || !strings.HasPrefix(first, "$argon2id$v=19$m=19456,t=2,p=1$") || strings.Contains(first, "the same") {
		t.Errorf("%s and %s", first, second)
	}
}
