// Dorvet is professional-services billing in one program: the server with its
// pages, the demo firm, and the care of the data.
package main

import (
	"fmt"
	"os"
	"runtime/debug"

	"dorvet/internal/store"

	"github.com/caarlos0/env/v11"
	"github.com/spf13/cobra"
)

// settings come from the environment; flags win over it.
type settings struct {
	Address string `env:"DORVET_ADDR" envDefault:"127.0.0.1:8700"`
	Data    string `env:"DORVET_DATA" envDefault:"data"`
	Secure  bool   `env:"DORVET_SECURE_COOKIES"`
	// URL is where clients reach Dorvet; empty: the address itself.
	URL string `env:"DORVET_URL"`
	// SMTP is a mail server; empty: the stand-in, which keeps mails.
	SMTP         string `env:"DORVET_SMTP"`
	SMTPUser     string `env:"DORVET_SMTP_USER"`
	SMTPPassword string `env:"DORVET_SMTP_PASSWORD"`
	// Reports is where mail servers say what became of mails, host:port, and Return the address to which they do.
	Reports string `env:"DORVET_REPORTS"`
	Return  string `env:"DORVET_RETURN"`
	Proxies string `env:"DORVET_TRUSTED_PROXIES"`
}

func main() {
	if err := root().Execute(); err != nil {
		if trouble := store.Trouble(err); trouble != "" {
			fmt.Fprintln(os.Stderr, trouble)
		}
		os.Exit(1)
	}
}

func root() *cobra.Command {
	set := &settings{}
	if err := env.Parse(set); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	cmd := &cobra.Command{
		Use:   "dorvet",
		Short: "Professional-services billing: price, record, review, bill, collect",
		Long: `Professional-services billing: price, record, review, bill, collect.

Settings, each with its flag:
  DORVET_ADDR            address to serve on        --addr
  DORVET_DATA            folder of the data         --data
  DORVET_SECURE_COOKIES  cookies for HTTPS only     --secure-cookies
  DORVET_URL             where clients reach it     --url
                         (the one name that is answered to, besides this machine's own)
  DORVET_SMTP            mail server, host:port     --smtp
                         (none: mails are kept in the folder of the data)
  DORVET_SMTP_USER, DORVET_SMTP_PASSWORD            its account
  DORVET_REPORTS, DORVET_RETURN    where reports on mails come in, host:port, and their address
  DORVET_TRUSTED_PROXIES networks of proxies, like 10.0.0.0/8`,
		SilenceUsage: true,
	}
	flags := cmd.PersistentFlags()
	flags.StringVar(&set.Address, "addr", set.Address, "address to serve on")
	flags.StringVar(&set.Data, "data", set.Data, "folder of the data")
	flags.StringVar(&set.URL, "url", set.URL, "where clients reach it")
	flags.StringVar(&set.SMTP, "smtp", set.SMTP, "mail server, host:port")
	flags.BoolVar(&set.Secure, "secure-cookies", set.Secure, "cookies for HTTPS only")
	cmd.AddCommand(serveCommand(set), demoCommand(set), checkCommand(set), rebuildCommand(set), backupCommand(set),
		restoreCommand(set), openapiCommand(),
		&cobra.Command{Use: "version", Short: "Say which version this is", Args: cobra.NoArgs,
			Run: func(cmd *cobra.Command, _ []string) { cmd.Println("dorvet", version()) }})
	cmd.SetOut(os.Stdout)
	return cmd
}

// version is the module's, or "development" in a working copy.
func version() string {
	if info, ok := debug.ReadBuildInfo(); ok && info.Main.Version != "" && info.Main.Version != "(devel)" {
		return info.Main.Version
	}
	return "development"
}
