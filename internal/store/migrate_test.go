package store

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"dorvet/core/profile"

	"github.com/pressly/goose/v3"
)

// atVersion makes a database as a migration left it, with rows.
func atVersion(t *testing.T, folder string, version int64, rows ...string) {
	t.Helper()
	db, err := connect("file:"+filepath.Join(folder, database)+"?"+pragmas+"&_txlock=immediate", 1, "")
	if err != nil {
		t.Fatal(err)
	}
	pool, err := db.DB()
	if err != nil {
		t.Fatal(err)
	}
	defer pool.Close()
	provider, err := goose.NewProvider(goose.DialectSQLite3, pool, migrations())
	if err != nil {
		t.Fatal(err)
	}
	if _, err := provider.UpTo(context.Background(), version); err != nil {
		t.Fatal(err)
	}
	for _, row := range rows {
		if err := db.Exec(row).Error; err != nil {
			t.Fatal(err)
		}
	}
}

// first are values on every layer, as the first migration had them.
var first = []string{
	`INSERT INTO issuing_entities VALUES (1, 0, 'Firm', 'Firm Ltd', '', '', '', '', '', '')`,
	`INSERT INTO tax_codes VALUES (1, 0, 'S', 'VAT', 'S', ''), (2, 0, 'R', 'VAT', 'S', '')`,
	`INSERT INTO firm VALUES (1, 3, 'Firm', 'EUR', 'UTC', '.', 6, 'up', 12, '30d', 1, '')`,
	`INSERT INTO people VALUES (1, 0, 'Ada', 'AA', 'ada@firm.example', 'hash', 'administrator', NULL, 1, 2400, TRUE)`,
	`INSERT INTO clients VALUES (1, 0, 'A', 'Alder', 'Alder', '', '', '', 'EUR', 'eom', 2, FALSE, TRUE), (2, 0, 'B', 'Birch', 'Birch',
			'',
			'', '', 'EUR', '', NULL, TRUE, TRUE)`,
	`INSERT INTO engagements VALUES (1, 0, 1, 1, NULL, 'E1', 'Survey', '', 'hourly', 1, 'EUR', '14d', 1, 15, 'nearest', NULL, TRUE,
			'2026-01-01', '', TRUE),
			(2, 0, 2, 1, NULL, 'E2', 'Study', '', 'hourly', 1, 'EUR', '', NULL, NULL, '', NULL, TRUE, '2026-01-01', '', TRUE)`,
}

// Fields of the firm's own, what stands in them, and kept texts come along where their tables
// are made anew, for time entries and invoices, too.
func TestOwnFieldsAndKeptTextsComeAlong(t *testing.T) {
	folder := t.TempDir()
	atVersion(t, folder, 15,
		`INSERT INTO own_fields (id, subject, name, form, choices, active) VALUES (7, 'client', 'Board meets', 'line', '', TRUE)`,
		`INSERT INTO own_values (field_id, subject_id, value) VALUES (7, 1, 'Monday')`,
		`UPDATE proposal_texts SET text = 'Ours alone' WHERE id = 1`)
	s, err := Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	tx := s.Read(t.Context(), Everything)
	if values, err := OwnValues(tx, "client", 1); err != nil || len(values) != 1 || values[0].ID != 7 || values[0].Value != "Monday" {
		t.Errorf("%+v, %v", values, err)
	}
	if text, err := Get[ProposalText](tx, 1); err != nil || text.Text != "Ours alone" {
		t.Errorf("%+v, %v", text, err)
	}
	broken := []map[string]any{}
	if err := s.writer.Raw("PRAGMA foreign_key_check").Scan(&broken).Error; err != nil || len(broken) > 0 {
		t.Errorf("%v, %v", broken, err)
	}
}

// What stood in columns stands in the profile afterwards, on the same layer;
// what was inherited is inherited still. A backup was made before.
func TestTheFirstDataComesAlongIntoTheProfile(t *testing.T) {
	folder := t.TempDir()
	atVersion(t, folder, 1, first...)
	s, err := Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	for _, c := range []struct {
		client, engagement  int64
		name, value, source string
	}{
		{1, 1, "terms", "14d", "from the engagement Survey"}, {1, 0, "terms", "eom", "from the client Alder"},
		{2, 2, "terms", "30d", "from the firm"},
		{1, 1, "tax_code", "S", "from the engagement Survey"}, {1, 0, "tax_code", "R", "from the client Alder"},
		{2, 2, "tax_code", "S", "from the firm"},
		{1, 1, "increment", "15", "from the engagement Survey"}, {1, 1, "rounding", "nearest", "from the engagement Survey"},
		{1, 1, "minimum", "12", "from the firm"},
		{2, 2, "increment", "6", "from the firm"}, {1, 1, "combined", "no", "from the client Alder"},
		{2, 2, "combined", "yes", "from the client Birch"},
	} {
		layers, err := ProfileLayers(s.Read(t.Context(), Everything), []int64{1, 2}, []int64{1, 2})
		if err != nil {
			t.Fatal(err)
		}
		if won := profile.Stack(layers(c.client, c.engagement)...).Of(c.name).Won; won.Value != c.value || won.In() != c.source {
			t.Errorf("%s of client %d and engagement %d is %+v, want %s %s", c.name, c.client, c.engagement, won, c.value, c.source)
		}
	}
	if client, err := Get[Client](s.Read(t.Context(), Everything), 1); err != nil || client.Name != "Alder" || client.StatusID == nil ||
		client.Language != "en" {
		t.Errorf("%+v, %v", client, err)
	}
	if firm, err := TheFirm(s.Read(t.Context(), Everything)); err != nil || firm.Version != 3 || firm.EngagementWord != "engagement" ||
		firm.WorkingDays != "mon tue wed thu fri" {
		t.Errorf("%+v, %v", firm, err)
	}
	if made, err := filepath.Glob(filepath.Join(folder, "backups", "before-version-*.zip")); err != nil || len(made) != 1 {
		t.Errorf("backups made before: %v, %v", made, err)
	}
	if breaches, err := s.Check(s.Read(t.Context(), Everything)); err != nil || len(breaches) > 0 {
		t.Errorf("%v, %v", breaches, err)
	}
}

// Mails with their link and file, and links that were made, come along where their tables are made anew; what was issued before deliveries
// were noted is not taken for not handed over.
func TestMailsComeAlongWithTheirLinksAndFiles(t *testing.T) {
	folder := t.TempDir()
	digest := fmt.Sprintf("%x", sha256.Sum256([]byte("x")))
	path := filepath.Join(folder, "files", digest[:2], digest)
	if err := errors.Join(os.MkdirAll(filepath.Dir(path), 0o700), os.WriteFile(path, []byte("x"), 0o600)); err != nil {
		t.Fatal(err)
	}
	atVersion(t, folder, 18,
		`INSERT INTO acts (id, kind, at, business_day, summary) VALUES (1, 'x', '2026-01-01', '2026-01-01', 'Wrote')`,
		`INSERT INTO files (digest, bytes, media_type, at) VALUES ('`+digest+`', 1, 'application/pdf', '2026-01-01')`,
		`INSERT INTO mails (id, act_id, to_name, to_mail, subject, body, link_purpose, link_subject, link_expires, attachment, attachment_name, state, made_at)
			VALUES (3, 1, 'Ann', 'ann@client.example', 'Ours', '{link}', 'proposal', 8, '2027-01-01 00:00:00+00:00', '`+digest+`', 'a.pdf', 'sent', '2026-01-01'),
			(4, 1, 'Bo', 'bo@client.example', 'Plain', 'x', '', 0, NULL, '', '', 'queued', '2026-01-01')`,
		`INSERT INTO links (id, digest, purpose, subject_id, name, mail, made_at, expires_at)
			VALUES (5, 'abc', 'questionnaire', 2, 'Ann', 'ann@client.example', '2026-01-01', '2027-01-01')`)
	s, err := Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	tx := s.Read(t.Context(), Everything)
	for id, want := range map[int64]int{3: 1, 4: 0} {
		m, err := Get[Mail](tx, id)
		if err != nil {
			t.Fatal(err)
		}
		if err := WithParts(tx, m); err != nil || len(m.Links) != want || len(m.Files) != want {
			t.Errorf("mail %d: %+v, %v", id, m, err)
		}
		if want == 1 && (m.Links[0].SubjectID != 8 || m.Links[0].Mark != "link" || m.Files[0].Name != "a.pdf" || m.State != "sent") {
			t.Errorf("%+v", m)
		}
	}
	if link, err := LinkOf(tx, "abc"); err != nil || link.ID != 5 || link.Purpose != ForQuestionnaire {
		t.Errorf("%+v, %v", link, err)
	}
	broken := []map[string]any{}
	if err := s.writer.Raw("PRAGMA foreign_key_check").Scan(&broken).Error; err != nil || len(broken) > 0 {
		t.Errorf("%v, %v", broken, err)
	}
}
