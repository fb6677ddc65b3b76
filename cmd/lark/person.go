package main

import (
	"errors"
	"fmt"
	"log/slog"
	"os"

	"github.com/spf13/cobra"

	"copperlark/app"
)

func personCommand() *cobra.Command {
	var newcomer app.NewPerson
	var space, role, newSpace, data string
	var link bool
	command := &cobra.Command{
		Use:   "person",
		Short: "Put a person into a space, or make a link to a new password",
		Long: `Puts somebody into a space that there is, or, with --new-space, into one that is made for them. Somebody who is known by the
address comes in as they are; for somebody new the password is read from LARK_PASSWORD, and without one a link is printed that
leads to it, once, within twelve hours. With --link alone such a link is made for somebody who is known.`,
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if (space == "") == (newSpace == "") && !link {
				return errors.New("say the space with --space, or a new one with --new-space")
			}
			s, err := settingsFor(data)
			if err != nil {
				return err
			}
			_, a, closeAll, err := open(c.Context(), s, false, slog.Default())
			if err != nil {
				return err
			}
			defer closeAll()
			if space != "" || newSpace != "" {
				newcomer.Password = os.Getenv("LARK_PASSWORD")
				person, err := a.PutIn(c.Context(), newcomer, space+newSpace, app.Role(role), newSpace != "")
				if err != nil {
					return advised(err)
				}
				say("%s is in %s as %s", person.Email, person.SpaceName, person.Role)
				link = link || !person.HasPassword
			}
			if !link {
				return nil
			}
			token, err := a.LinkFor(c.Context(), newcomer.Email)
			if errors.Is(err, app.ErrNotFound) {
				return fmt.Errorf("nobody has the address %s", newcomer.Email)
			}
			if err != nil {
				return err
			}
			fmt.Println(s.outside.Address + "/password/" + token)
			return nil
		},
	}
	command.Flags().StringVar(&newcomer.Email, "email", "", "address to sign in with")
	command.Flags().StringVar(&newcomer.Name, "name", "", "the name of somebody new")
	command.Flags().StringVar(&space, "space", "", "the name of a space that there is")
	command.Flags().StringVar(&newSpace, "new-space", "", "the name of a space to make, which they own")
	command.Flags().StringVar(&role, "role", string(app.Maker), "what they become in it: reader, maker or owner")
	command.Flags().BoolVar(&link, "link", false, "print a link to a new password")
	command.Flags().StringVar(&data, "data", "data", "folder of the program's own PostgreSQL")
	completes(command, "role", string(app.Reader), string(app.Maker), string(app.Owner))
	_ = command.MarkFlagRequired("email")
	return command
}

// advised says what to do about an error, where it knows.
func advised(err error) error {
	var invalid *app.Invalid
	if errors.As(err, &invalid) && invalid.Advice != "" {
		return fmt.Errorf("%w: %s", err, invalid.Advice)
	}
	return err
}
