package main

import (
	"bytes"
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/apptest"
	"dorvet/internal/demo"
	"dorvet/internal/store"
)

// command runs the program and reads what it prints.
func command(t testing.TB, args ...string) (string, error) {
	t.Helper()
	cmd, out := root(), new(bytes.Buffer)
	cmd.SetArgs(args)
	cmd.SetOut(out)
	cmd.SetErr(out)
	err := cmd.ExecuteContext(t.Context())
	return out.String(), err
}

func TestTheDemoIsForThisMachineAlone(t *testing.T) {
	for _, address := range []string{"0.0.0.0:8700", ":8700", "192.0.2.1:8700", "example.org:80"} {
		if out, err := command(t, "demo", "--data", t.TempDir(), "--addr", address); err == nil ||
			!strings.Contains(err.Error(), "this machine only") {
			t.Errorf("%s: %v, %s", address, err, out)
		}
	}
	for _, address := range []string{"127.0.0.1:0", "localhost:8700", "[::1]:8700"} {
		if err := onlyLoopback(address); err != nil {
			t.Errorf("%s: %v", address, err)
		}
	}
}

func TestServingNothingIsRefusedInWords(t *testing.T) {
	for _, verb := range [][]string{{"check"}, {"backup", filepath.Join(t.TempDir(), "b.zip")}} {
		if _, err := command(t, append(verb, "--data", t.TempDir())...); err == nil || !strings.Contains(err.Error(), "there is no data") {
			t.Errorf("%v: %v", verb, err)
		}
	}
}

// folder is where what all tests share is kept.
var folder string

func TestMain(m *testing.M) {
	var err error
	if folder, err = os.MkdirTemp("", "dorvet-*"); err != nil {
		panic(err)
	}
	code := m.Run()
	os.RemoveAll(folder)
	os.Exit(code)
}

// theDemo is the demo firm, made once for all tests that want a copy.
var theDemo = sync.OnceValues(func() (string, error) {
	return apptest.Demo(filepath.Join(folder, "demo"), func(made string) error {
		return demo.Seed(context.Background(), made, newApp(app.WallClock{}))
	})
})

// seeded is a copy of the demo firm of the test's own.
func seeded(t testing.TB) string {
	t.Helper()
	made, err := theDemo()
	data := filepath.Join(t.TempDir(), "demo")
	if err == nil {
		err = os.CopyFS(data, os.DirFS(made))
	}
	if err != nil {
		t.Fatal(err)
	}
	return data
}

func TestBackupRestoreAndCheckOfTheDemo(t *testing.T) {
	data, archive := seeded(t), filepath.Join(t.TempDir(), "backup.zip")
	if out, err := command(t, "backup", archive, "--data", data); err != nil || !strings.Contains(out, "285 files") {
		t.Fatalf("%s, %v", out, err)
	}
	if _, err := command(t, "backup", archive, "--data", data); err == nil {
		t.Error("a backup was overwritten")
	}
	restored := filepath.Join(t.TempDir(), "restored")
	if out, err := command(t, "restore", archive, "--data", restored); err != nil || !strings.Contains(out, "Everything adds up.") {
		t.Fatalf("%s, %v", out, err)
	}
	s, err := store.Open(t.Context(), restored)
	if err != nil {
		t.Fatal(err)
	}
	err = s.Write(t.Context(), store.Everything, func(tx *store.DB) error {
		return tx.SQL(t).Exec("UPDATE invoices SET tax = tax + 1 WHERE id = 3").Error
	})
	if err != nil {
		t.Fatal(err)
	}
	s.Close()
	if out, err := command(t, "check", "--data", restored); err == nil || !strings.Contains(out, "row 3") {
		t.Errorf("a cent too much goes unseen: %s, %v", out, err)
	}
}

func TestSettingsComeFromTheEnvironmentAndFlagsWin(t *testing.T) {
	t.Setenv("DORVET_DATA", filepath.Join(t.TempDir(), "from the environment"))
	if _, err := command(t, "check"); err == nil || !strings.Contains(err.Error(), "from the environment") {
		t.Errorf("%v", err)
	}
	if _, err := command(t, "check", "--data", "from the flag"); err == nil || !strings.Contains(err.Error(), "from the flag") {
		t.Errorf("%v", err)
	}
	if out, err := command(t, "--help"); err != nil || !strings.Contains(out, "DORVET_ADDR") || !strings.Contains(out, "backup") {
		t.Errorf("%s, %v", out, err)
	}
}

func TestTheContractIsOpenAPI31(t *testing.T) {
	out, err := command(t, "openapi")
	var contract struct{ OpenAPI string }
	if err != nil || json.Unmarshal([]byte(out), &contract) != nil || !strings.HasPrefix(contract.OpenAPI, "3.1") {
		t.Errorf("%.60s, %v", out, err)
	}
	if out, err := command(t, "version"); err != nil || !strings.HasPrefix(out, "dorvet ") {
		t.Errorf("%s, %v", out, err)
	}
	if _, err := os.Stat("data"); err == nil {
		t.Error("reading the contract made data")
	}
}
