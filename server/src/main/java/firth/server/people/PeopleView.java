package firth.server.people;

import java.time.Instant;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * Who may do what.
 *
 * @param roles those a person may have, in the order they are shown
 * @param programRoles those a token may have
 */
public record PeopleView(
        List<PersonView> people, List<TokenView> tokens, List<String> roles, List<String> programRoles) {

    /**
     * A person.
     *
     * @param here whether Firth keeps a password of theirs
     * @param away whether they may not sign in any more
     */
    public record PersonView(String id, String name, List<String> roles, boolean here, boolean away) {}

    /**
     * A person as an administrator states them.
     *
     * @param password null: stays as it is
     */
    public record PersonWritten(
            String name,
            List<String> roles,
            boolean away,
            @Schema(nullable = true) @Nullable String password) {}

    /**
     * The token of a program.
     *
     * @param place the one store or host it may speak of; null where bound to none
     * @param state good, ended or revoked
     */
    public record TokenView(
            String id,
            String name,
            List<String> roles,
            @Schema(nullable = true) @Nullable String place,
            Instant made,
            String by,
            @Schema(nullable = true) @Nullable Instant until,
            @Schema(nullable = true) @Nullable Instant used,
            String state) {}

    /** A token asked for. */
    public record TokenWritten(
            String name,
            List<String> roles,
            @Schema(nullable = true) @Nullable String place,
            @Schema(nullable = true) @Nullable Instant until) {}

    /** A token made; its secret is never shown again. */
    public record TokenMade(String id, String secret) {}
}
