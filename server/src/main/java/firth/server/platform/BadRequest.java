package firth.server.platform;

/** A request that cannot be answered as it stands; names the parameter and what to do. */
public final class BadRequest extends RuntimeException {

    public BadRequest(String parameter, String reason) {
        super(parameter + " " + reason);
    }
}
