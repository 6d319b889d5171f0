module dorvet

go 1.26.0

require (
	github.com/cockroachdb/apd/v3 v3.2.3
	golang.org/x/text v0.43.0
)

require (
	codeberg.org/go-pdf/fpdf v0.12.0 // indirect
	github.com/alexedwards/scs/sqlite3store v0.0.0-20251002162104-209de6e426de // indirect
	github.com/alexedwards/scs/v2 v2.9.0 // indirect
	github.com/caarlos0/env/v11 v11.4.2 // indirect
	github.com/chromedp/cdproto v0.159.0 // indirect
	github.com/chromedp/chromedp v0.23.0 // indirect
	github.com/danielgtaylor/huma/v2 v2.37.2 // indirect
	github.com/go-chi/chi/v5 v5.5.0 // indirect
	github.com/go-chi/httprate v0.16.1 // indirect
	github.com/go-json-experiment/json v0.0.0-20260213210345-44df1a37e875 // indirect
	github.com/inconshreveable/mousetrap v1.1.0 // indirect
	github.com/jinzhu/inflection v1.0.0 // indirect
	github.com/jinzhu/now v1.1.5 // indirect
	github.com/klauspost/cpuid/v2 v2.3.0 // indirect
	github.com/mattn/go-sqlite3 v1.14.53 // indirect
	github.com/mfridman/interpolate v0.0.2 // indirect
	github.com/pressly/goose/v3 v3.29.0 // indirect
	github.com/sethvargo/go-retry v0.5.0 // indirect
	github.com/spf13/cobra v1.10.2 // indirect
	github.com/spf13/pflag v1.0.10 // indirect
	github.com/teambition/rrule-go v1.8.2 // indirect
	github.com/zeebo/xxh3 v1.0.2 // indirect
	go.uber.org/multierr v1.11.0 // indirect
	golang.org/x/crypto v0.58.0 // indirect
	golang.org/x/sync v0.24.0 // indirect
	golang.org/x/sys v0.49.0 // indirect
	gorm.io/driver/sqlite v1.6.0 // indirect
	gorm.io/gorm v1.31.2 // indirect
)
