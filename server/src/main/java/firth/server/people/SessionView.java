package firth.server.people;

import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * Who is signed in at this browser.
 *
 * @param person null where nobody is
 * @param roles what they may do
 * @param page what a page shows with every change, in the header X-Firth-Page; empty where none is asked for
 * @param demo whether people are made up here and signed in by themselves
 * @param live whether a small real fleet runs beside it, with faults to try
 * @param others whom one may be instead, in the demo
 * @param awaitsFirst whether the first administrator is still to come
 * @param empty whether no database is known yet; said to nobody who is not signed in
 * @param provider whether one may sign in through another service
 * @param version of Firth
 */
public record SessionView(
        @Schema(nullable = true) @Nullable Someone person,
        List<String> roles,
        String page,
        boolean demo,
        boolean live,
        List<Someone> others,
        boolean awaitsFirst,
        boolean empty,
        boolean provider,
        String version) {

    /** A person by name. */
    public record Someone(String id, String name, List<String> can) {}

    /** What one signs in with. */
    public record Entering(String id, String password) {}

    /** What the first administrator begins with: the one-time code the server printed. */
    public record FirstEntering(String code, String id, String name, String password) {}

    /** Whom of the demo one wants to be. */
    public record Being(String person) {}

    /** A password put in the place of another. */
    public record NewPassword(String old, String password) {}
}
