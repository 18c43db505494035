package firth.server.sending;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * Who is told of what, and what was sent.
 *
 * @param mail whether a mail server is configured
 * @param ranks the ranks of findings, the worst first
 */
public record SendingView(boolean mail, String from, List<String> ranks, List<SendList> lists, List<Sent> sent) {

    /**
     * Some who are told of something.
     *
     * @param mails addresses
     * @param webhook where events go to; empty: nowhere
     * @param secret what events are signed with, in base64; shown to nobody: empty in what is read, kept when it comes back empty
     * @param by fleet, policy, owner or label: which databases it is about
     * @param of which one; empty for the fleet
     * @param rank findings of this rank and worse are told; empty: none
     * @param ends whether it is told, too, that one ended
     * @param runsFailed whether runs that fail are told
     * @param runsOk whether runs that go well are told
     * @param quietFrom from when on, local, nothing is sent; empty: always
     * @param watchAt when the morning watch is sent, local; empty: never
     * @param report weekly, quarterly, or empty: never
     */
    public record SendList(
            String id,
            String name,
            boolean enabled,
            List<String> mails,
            String webhook,
            String secret,
            String by,
            String of,
            String rank,
            boolean ends,
            boolean runsFailed,
            boolean runsOk,
            String quietFrom,
            String quietTo,
            String zone,
            String watchAt,
            String report) {}

    /** A message. */
    public record Sent(
            String id,
            String list,
            String way,
            String title,
            Instant made,
            String state,
            int tries,
            @Schema(nullable = true) @Nullable Instant next,
            String told) {}

    /** What came of a try to send something to a list. */
    public record Tried(boolean sent, @Nullable String told) {}
}
