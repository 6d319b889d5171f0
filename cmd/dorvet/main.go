// Dorvet is professional-services billing in one program: the server with its
// pages, the demo firm, and the care of the data.
package main

import (
	"fmt"
	"os"
	"runtime/debug"

	"github.com/caarlos0/env/v11"
	"github.com/spf13/cobra"
)

// settings come from the environment; flags win over it.
type settings struct {
	Address string `env:"DORVET_ADDR" envDefault:"127.0.0.1:8700"`
	Data    string `env:"DORVET_DATA" envDefault:"data"`
	Secure  bool   `env:"DORVET_SECURE_COOKIES"`
}

func main() {
	if err := root().Execute(); err != nil {
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
  DORVET_SECURE_COOKIES  cookies for HTTPS only     --secure-cookies`,
		SilenceUsage: true,
	}
	flags := cmd.PersistentFlags()
	flags.StringVar(&set.Address, "addr", set.Address, "address to serve on")
	flags.StringVar(&set.Data, "data", set.Data, "folder of the data")
	flags.BoolVar(&set.Secure, "secure-cookies", set.Secure, "cookies for HTTPS only")
	cmd.AddCommand(serveCommand(set), demoCommand(set), checkCommand(set), backupCommand(set), restoreCommand(set), openapiCommand(),
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
