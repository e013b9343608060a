package main

import (
	"bytes"
	"context"
	"flag"
	"fmt"
	"io"
	"regexp"
	"strings"
)

// ofFlag is a line that says what a flag is called, and what it takes, as package flag prints it.
var ofFlag = regexp.MustCompile(`^  -([a-z0-9-]+)`)

// helpOf is what a command says of its flags; empty for one that takes none.
func helpOf(ctx context.Context, c command) string {
	var text bytes.Buffer
	// Asked for help it does nothing else.
	_ = c.run(ctx, []string{"-h"}, strings.NewReader(""), io.Discard, &text)
	_, flags, _ := strings.Cut(text.String(), "\n")
	return flags
}

// roff is text that the typesetter of manual pages takes as it is.
func roff(text string) string {
	text = strings.NewReplacer(`\`, `\e`, "-", `\-`, "'", `\(aq`).Replace(text)
	if strings.HasPrefix(text, ".") {
		return `\&` + text
	}
	return text
}

// manual prints the manual page, from the commands' own table.
func manual(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	if err := flags("manual", args, errs, noFlags); err != nil {
		return err
	}
	fmt.Fprintf(out, ".TH GRAPNEL 8 \"\" \"Grapnel %s\" \"System administration\"\n", roff(release))
	fmt.Fprint(out, ".SH NAME\ngrapnel \\- diagnosis and service of starting batteries, for a workshop\n")
	fmt.Fprint(out, ".SH SYNOPSIS\n.B grapnel\n.I COMMAND\n[flags]\n.SH COMMANDS\n")
	for _, c := range commands() {
		fmt.Fprintf(out, ".TP\n.B %s\n%s\n", roff(c.name), roff(c.about))
		manualFlags(ctx, out, c)
	}
	fmt.Fprint(out, ".SH ENVIRONMENT\n")
	for _, one := range [][2]string{
		{"GRAPNEL_DSN", "the MariaDB that is used instead of a private one: user:password@tcp(host:port)/database"},
		{"GRAPNEL_DATA", "folder of the private database"},
		{"GRAPNEL_BACKUPS", "folder that backups go to, best on another disk"},
		{"GRAPNEL_BACKUP_KEY", "key that backups are sealed with, or the file it is in"},
	} {
		fmt.Fprintf(out, ".TP\n.B %s\n%s\n", one[0], roff(one[1]))
	}
	fmt.Fprint(out, ".SH FILES\n.TP\n.I /etc/grapnel/grapnel.conf\nwhat the service is started with\n.TP\n.I /var/lib/grapnel\nthe shop's database and its backups\n")
	fmt.Fprint(out, ".SH EXIT STATUS\n0 for what was done, 2 for bad input, 1 for a fault.\n")
	return nil
}

// manualFlags are a command's flags, indented below it.
func manualFlags(ctx context.Context, out io.Writer, c command) {
	text := helpOf(ctx, c)
	if text == "" {
		return
	}
	fmt.Fprint(out, ".RS\n")
	for line := range strings.Lines(text) {
		line = strings.TrimRight(line, "\n")
		if ofFlag.MatchString(line) {
			fmt.Fprintf(out, ".TP\n.B %s\n", roff(strings.TrimSpace(line)))
		} else if line = strings.TrimSpace(line); line != "" {
			fmt.Fprintln(out, roff(line))
		}
	}
	fmt.Fprint(out, ".RE\n")
}

// completion prints what completes commands and their flags in a shell of Bash.
func completion(ctx context.Context, args []string, _ io.Reader, out, errs io.Writer) error {
	if err := flags("completion", args, errs, noFlags); err != nil {
		return err
	}
	var names []string
	for _, c := range commands() {
		names = append(names, c.name)
	}
	fmt.Fprintf(out, "# Completion of grapnel for Bash, as grapnel completion prints it.\n_grapnel() {\n  local word=${COMP_WORDS[COMP_CWORD]}\n"+
		"  if [ \"$COMP_CWORD\" -eq 1 ]; then\n    mapfile -t COMPREPLY < <(compgen -W '%s' -- \"$word\")\n    return\n  fi\n  case ${COMP_WORDS[1]} in\n", strings.Join(names, " "))
	for _, c := range commands() {
		var list []string
		for line := range strings.Lines(helpOf(ctx, c)) {
			if m := ofFlag.FindStringSubmatch(line); m != nil {
				list = append(list, "-"+m[1])
			}
		}
		if len(list) > 0 {
			fmt.Fprintf(out, "    %s) mapfile -t COMPREPLY < <(compgen -W '%s' -- \"$word\") ;;\n", c.name, strings.Join(list, " "))
		}
	}
	fmt.Fprint(out, "  esac\n  [ \"${#COMPREPLY[@]}\" -gt 0 ] || mapfile -t COMPREPLY < <(compgen -f -- \"$word\")\n}\ncomplete -o filenames -F _grapnel grapnel\n")
	return nil
}

// noFlags are the flags of a command that takes none.
func noFlags(*flag.FlagSet) {}
