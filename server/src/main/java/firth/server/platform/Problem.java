package firth.server.platform;

import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.jspecify.annotations.Nullable;

/**
 * An error as a person and a program need it (RFC 9457).
 *
 * @param type what sort of error it is: a path of this server that never changes its meaning
 * @param title the sort in a few words
 * @param detail what is wrong with this request
 * @param unharmed what stays as it was; empty where nobody can say
 * @param remedy what to do
 */
@Schema(description = "What is wrong, what is unharmed, and what to do (RFC 9457).")
public record Problem(
        String type, String title, int status, @Nullable String detail, String unharmed, String remedy) {

    /** How it is sent. */
    public static final String MEDIA_TYPE = "application/problem+json";
}
