// Command lark is the whole program: the server, the demo data, charts drawn without a server, and a shell that speaks with
// one.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"runtime/debug"
	"strings"
	"syscall"

	"github.com/spf13/cobra"
)

// What a command ends with that does not end well.
const (
	endedRefused = 1 // what was asked, or the input, was refused
	endedUsage   = 2 // the command itself was not said as it is said
	endedAway    = 3 // a server or a database does not answer
)

// usage is a command that was not said as it is said.
type usage struct{ error }

func (u usage) Unwrap() error { return u.error }

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	root := rootCommand()
	started := ""
	root.PersistentPreRun = func(c *cobra.Command, _ []string) { started = c.Name() }
	unwatched := context.AfterFunc(ctx, func() {
		stop() // a second signal ends at once
		if started != "start" {
			os.Exit(endedRefused) // what is being written stands beside its place until it is whole
		}
	})
	err := run(ctx, root)
	unwatched() // what has ended is not ended once more
	if err == nil {
		return
	}
	fmt.Fprintln(os.Stderr, "lark:", strings.ReplaceAll(err.Error(), "\n", "\n  "))
	os.Exit(ending(err, started != ""))
}

func ending(err error, started bool) int {
	var gone away
	var said usage
	switch {
	case errors.As(err, &said), !started: // flags and arguments are looked at before anything starts
		return endedUsage
	case errors.As(err, &gone):
		return endedAway
	}
	return endedRefused
}

func rootCommand() *cobra.Command {
	root := &cobra.Command{
		Use:           "lark",
		Short:         "Explore relations between variables, and share what you found",
		Long:          "Explore relations between variables, and share what you found.\n\nA command ends with 0; with 1 where the input was refused, 2 where it was\nnot said as it is said, 3 where a server or a database does not answer.\nNotes go to standard error; - is standard input or output.",
		SilenceUsage:  true,
		SilenceErrors: true,
		Version:       version(),
	}
	root.SetVersionTemplate("lark {{.Version}}\n")
	root.AddCommand(
		startCommand(),
		demoCommand(),
		personCommand(),
		settingsCommand(),
		backupCommand(),
		restoreCommand(),
		renderCommand(),
		readCommand(),
		explainCommand(),
		openapiCommand(),
	)
	root.AddCommand(remoteCommands()...)
	return root
}

// version is the commit that the program was built of, where that is known.
func version() string {
	built, known := debug.ReadBuildInfo()
	if !known {
		return "of an unknown commit"
	}
	commit, changed, at := "", "", ""
	for _, one := range built.Settings {
		switch one.Key {
		case "vcs.revision":
			commit = one.Value[:min(12, len(one.Value))]
		case "vcs.time":
			at = " of " + one.Value
		case "vcs.modified":
			if one.Value == "true" {
				changed = ", changed since"
			}
		}
	}
	if commit == "" {
		return "of an unknown commit"
	}
	return commit + at + changed
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
