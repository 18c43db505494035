package firth.server.platform;

import jakarta.ws.rs.ext.Provider;
import jakarta.ws.rs.ext.ReaderInterceptor;
import jakarta.ws.rs.ext.ReaderInterceptorContext;
import java.io.IOException;

/** Where something is to be sent, nothing is not enough. */
@Provider
public class GivenBody implements ReaderInterceptor {

    @Override
    public Object aroundReadFrom(ReaderInterceptorContext context) throws IOException {
        Object body = context.proceed();
        if (body == null) {
            throw new BadRequest("The body", "is missing.");
        }
        return body;
    }
}
