package firth.server.platform;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.exc.MismatchedInputException;
import firth.exchange.BadField;
import firth.exchange.NotAFleetFile;
import firth.store.Changed;
import firth.store.StoreFailure;
import io.quarkus.security.ForbiddenException;
import io.quarkus.security.UnauthorizedException;
import jakarta.ws.rs.WebApplicationException;
import jakarta.ws.rs.core.Response;
import java.util.Locale;
import org.jboss.logging.Logger;
import org.jboss.resteasy.reactive.server.ServerExceptionMapper;
import org.jspecify.annotations.Nullable;

/** Says what happened, what is unharmed and what to do, in every answer that is an error. */
class Errors {

    private static final Logger LOG = Logger.getLogger(Errors.class);

    /** Of a request that broke off somewhere nobody can say how far it came. */
    private static final String UNKNOWN = "";

    @ServerExceptionMapper
    Response badRequest(BadRequest e) {
        return answer(400, e.getMessage(), "Nothing was changed.", "Correct what is named and try again.");
    }

    @ServerExceptionMapper
    Response conflict(Conflict e) {
        return answer(409, e.getMessage(), "Nothing was changed.", e.remedy());
    }

    @ServerExceptionMapper
    Response changed(Changed e) {
        return answer(409, e.getMessage(), "Nothing was changed.", "Look again, and decide by how things stand now.");
    }

    @ServerExceptionMapper
    Response badField(BadField e) {
        return answer(
                400, e.field() + " " + e.reason(), "Nothing was changed.", "Correct what is named and try again.");
    }

    /** What was sent as JSON is none, or not what was asked for. */
    @ServerExceptionMapper
    Response unread(MismatchedInputException e) {
        return unreadable(e);
    }

    private static Response unreadable(JsonProcessingException e) {
        return answer(400, JsonFlaw.of(e), "Nothing was changed.", "See /q/openapi for what is to be sent.");
    }

    @ServerExceptionMapper
    Response notFound(NotFound e) {
        return answer(
                404, e.getMessage(), "Nothing was changed.", "It may have another id, or its facts have not come yet.");
    }

    @ServerExceptionMapper
    Response notSignedIn(UnauthorizedException e) {
        return answer(401, "You are not signed in.", "Nothing was changed.", "Sign in, or show a token.");
    }

    @ServerExceptionMapper
    Response notAllowed(ForbiddenException e) {
        return answer(
                403,
                "Your roles do not allow this.",
                "Nothing was changed.",
                "docs/people.md says which role may do what; an administrator gives roles.");
    }

    @ServerExceptionMapper
    Response refusedByFirth(Refused e) {
        return answer(e.status(), e.getMessage(), "Nothing was changed.", e.remedy());
    }

    @ServerExceptionMapper
    Response refused(WebApplicationException e) {
        if (e.getCause() instanceof JsonProcessingException unread) {
            return unreadable(unread);
        }
        int status = e.getResponse().getStatus();
        String what = switch (status) {
            case 404 -> "There is nothing at this address.";
            case 415 -> "A fleet file is sent as application/x-ndjson.";
            default -> "The request was refused (" + status + ").";
        };
        return answer(
                status, what, status < 500 ? "Nothing was changed." : UNKNOWN, "See /q/openapi for what there is.");
    }

    @ServerExceptionMapper
    Response notAFleetFile(NotAFleetFile e) {
        return answer(
                422, e.getMessage(), "What was known before is unharmed.", "docs/exchange.md describes the format.");
    }

    @ServerExceptionMapper
    Response store(StoreFailure e) {
        LOG.error(e.getMessage(), e);
        return answer(
                500,
                e.getMessage() + ".",
                "What was known before is unharmed.",
                "Look at the server's log; is there room on its disk?");
    }

    @ServerExceptionMapper
    Response unexpected(RuntimeException e) {
        LOG.error("An answer could not be given", e);
        return answer(
                500,
                "An answer could not be given.",
                UNKNOWN,
                "Check whether it was done; the server's log says more.");
    }

    private static Response answer(int status, @Nullable String detail, String unharmed, String remedy) {
        String sort = sort(status);
        String type = "/problems/" + sort.toLowerCase(Locale.ROOT).replace(' ', '-');
        return Response.status(status)
                .type(Problem.MEDIA_TYPE)
                .entity(new Problem(type, sort, status, detail, unharmed, remedy))
                .build();
    }

    private static String sort(int status) {
        return switch (status) {
            case 400 -> "Bad request";
            case 401 -> "Not signed in";
            case 403 -> "Not allowed";
            case 404 -> "Not found";
            case 409 -> "Changed meanwhile";
            case 415 -> "Wrong media type";
            case 422 -> "Not a fleet file";
            case 429 -> "Too many tries";
            default -> status < 500 ? "Refused" : "No answer";
        };
    }
}
