package firth.cli;

import firth.agent.AgentCommand;
import firth.runner.RunnerCommand;
import firth.runner.drills.DrillCommand;
import firth.runner.drills.RestoreCommand;
import java.io.FileDescriptor;
import java.io.FileOutputStream;
import java.io.OutputStreamWriter;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The commands that need no server. */
@Command(
        name = "firth",
        subcommands = {
            AgentCommand.class,
            CheckCommand.class,
            ImportCommand.class,
            ObserveCommand.class,
            VerifyRecordCommand.class,
            RestoreSelfCommand.class,
            RunnerCommand.class,
            DrillCommand.class,
            RestoreCommand.class
        },
        description = "What can be restored, and what may be purged.")
public final class FirthCommand {

    private FirthCommand() {}

    public static void main(String[] args) {
        System.exit(commandLine()
                .setOut(utf8(FileDescriptor.out))
                .setErr(utf8(FileDescriptor.err))
                .execute(args));
    }

    /** What is said is UTF-8, as all files of ours are, whatever the machine is set to. */
    private static PrintWriter utf8(FileDescriptor to) {
        return new PrintWriter(new OutputStreamWriter(new FileOutputStream(to), StandardCharsets.UTF_8), true);
    }

    static CommandLine commandLine() {
        return new CommandLine(new FirthCommand());
    }
}
