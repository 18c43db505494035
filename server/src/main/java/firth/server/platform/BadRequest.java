package firth.server.platform;

import org.jspecify.annotations.Nullable;

/** A request that cannot be answered as it stands; names the parameter and what to do. */
public final class BadRequest extends RuntimeException {

    public BadRequest(String parameter, @Nullable String reason) {
        super(parameter + " " + reason);
    }
}
