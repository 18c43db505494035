package firth.cli;

import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The commands that need no server. */
@Command(
        name = "firth",
        subcommands = {CheckCommand.class, ImportCommand.class, VerifyRecordCommand.class, RestoreSelfCommand.class},
        description = "What can be restored, and what may be purged.")
public final class FirthCommand {

    private FirthCommand() {}

    public static void main(String[] args) {
        System.exit(commandLine().execute(args));
    }

    static CommandLine commandLine() {
        return new CommandLine(new FirthCommand());
    }
}
