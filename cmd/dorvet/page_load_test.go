package main

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"dorvet/internal/api"
	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/invoices"
	"dorvet/internal/demo"
	"dorvet/internal/store"
)

// BenchmarkTheClientsPageUnderLoad asks for the pages of invoices as sixteen clients (on two cores) do without a pause, each from an address and by a link
// of their own, while the firm records an entry again and again. The demo firm is small; what a page costs depends on its invoice, not on the firm.
func BenchmarkTheClientsPageUnderLoad(b *testing.B) {
	const clients, links = 8, 200 // a core
	data, err := store.Open(b.Context(), seeded(b))
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { data.Close() })
	a := newApp(app.PinnedClock{Date: demo.Today})
	a.Store, a.Clock, a.Address = data, app.PinnedClock{Date: demo.Today}, "http://localhost"
	handler, err := api.New(&a, api.Options{Version: "test", Pages: fstest.MapFS{"index.html": {Data: []byte("the pages")}}})
	if err != nil {
		b.Fatal(err)
	}
	who := app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator}}
	page, err := invoices.RegisterPage(b.Context(), &a, who.Actor, invoices.Filter{State: "open"}, 0, 50)
	if err != nil {
		b.Fatal(err)
	}
	secrets := []string{}
	for i := range links {
		linked, err := delivery.NewLink(b.Context(), &a, who, page.Invoices[i%len(page.Invoices)].ID, "Ann")
		if err != nil {
			b.Fatal(err)
		}
		_, secret, _ := strings.Cut(linked.Link, "#")
		secrets = append(secrets, secret)
	}
	record, lock, took, asked := recorder(b, &a), sync.Mutex{}, []time.Duration{}, 0
	b.SetParallelism(clients)
	b.ResetTimer()
	b.RunParallel(func(loop *testing.PB) {
		for loop.Next() {
			lock.Lock()
			asked++
			n := asked
			if n%20 == 0 {
				record()
			}
			lock.Unlock()
			request := httptest.NewRequest(http.MethodGet, "http://localhost/api/public/invoice", nil)
			request.Header.Set("Link-Secret", secrets[n%links])
			request.RemoteAddr = fmt.Sprintf("10.%d.%d.%d:1", n/60_000%250, n/250%250, n%250)
			answer, began := httptest.NewRecorder(), time.Now()
			handler.ServeHTTP(answer, request)
			lock.Lock()
			took = append(took, time.Since(began))
			lock.Unlock()
			if answer.Code != http.StatusOK && answer.Code != http.StatusTooManyRequests {
				b.Error(answer.Code, answer.Body.String())
			}
		}
	})
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms/page")
}
