// Command lark is the whole program: the server, the demo data, and charts
// drawn without a server.
package main

import (
	"context"
	"fmt"
	"os"
	"os/signal"
	"runtime/debug"
	"syscall"

	"github.com/spf13/cobra"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	root := &cobra.Command{
		Use:           "lark",
		Short:         "Explore relations between variables, and share what you found",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	root.AddCommand(
		startCommand(),
		demoCommand(),
		personCommand(),
		settingsCommand(),
		backupCommand(),
		restoreCommand(),
		renderCommand(),
		readCommand(),
		openapiCommand(),
	)
	if err := run(ctx, root); err != nil {
		fmt.Fprintln(os.Stderr, "lark:", err)
		os.Exit(1)
	}
}

// run keeps a panic from being the last word.
func run(ctx context.Context, root *cobra.Command) (err error) {
	defer func() {
		if fault := recover(); fault != nil {
			err = fmt.Errorf("a fault of the program itself: %v\n%s", fault, debug.Stack())
		}
	}()
	return root.ExecuteContext(ctx)
}
