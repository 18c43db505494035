package firth.server.people;

import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.server.platform.Secrets;
import firth.server.platform.Who;
import firth.store.People;
import io.quarkus.security.identity.AuthenticationRequestContext;
import io.quarkus.security.identity.IdentityProvider;
import io.quarkus.security.identity.SecurityIdentity;
import io.quarkus.security.runtime.QuarkusPrincipal;
import io.quarkus.security.runtime.QuarkusSecurityIdentity;
import io.smallrye.mutiny.Uni;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;

/** Finds whom a request is of by what it shows. */
@ApplicationScoped
class SignedIn implements IdentityProvider<Credential> {

    /** A session nobody used for so long has ended. */
    static final Duration IDLE = Duration.ofHours(12);

    /** A session ends after so long, used or not. */
    static final Duration LONGEST = Duration.ofDays(7);

    /** That something is in use is noted this often. */
    private static final Duration NOTED = Duration.ofMinutes(1);

    private final FactsHolder facts;
    private final MadeUpPeople madeUp;
    private final Clock clock;

    SignedIn(FactsHolder facts, MadeUpPeople madeUp, Clock clock) {
        this.facts = facts;
        this.madeUp = madeUp;
        this.clock = clock;
    }

    @Override
    public Class<Credential> getRequestType() {
        return Credential.class;
    }

    @Override
    public Uni<SecurityIdentity> authenticate(Credential shown, AuthenticationRequestContext context) {
        return context.runBlocking(() -> identity(shown).orElse(null));
    }

    private Optional<SecurityIdentity> identity(Credential shown) {
        Instant now = clock.instant();
        if (shown.token().isPresent()) {
            return ofToken(Secrets.hash(shown.token().get()), now);
        }
        if (shown.session().isPresent()) {
            return ofSession(Secrets.hash(shown.session().get()), now);
        }
        return madeUp.first().map(p -> of(p).build());
    }

    private Optional<SecurityIdentity> ofSession(String hash, Instant now) {
        Optional<People.Session> session = facts.store()
                .people()
                .session(hash)
                .filter(s -> now.isBefore(s.seen().plus(IDLE))
                        && now.isBefore(s.started().plus(LONGEST)))
                .filter(s -> !s.person().away());
        session.filter(s -> now.isAfter(s.seen().plus(NOTED)))
                .ifPresent(s -> facts.store().people().seen(hash, now, IDLE));
        return session.map(s -> of(s.person()).addAttribute(Who.SESSION, hash).build());
    }

    private static QuarkusSecurityIdentity.Builder of(People.Person person) {
        return QuarkusSecurityIdentity.builder()
                .setPrincipal(new QuarkusPrincipal(person.id()))
                .addRoles(Roles.widened(person.roles()))
                .addAttribute(Who.NAME, person.name());
    }

    private Optional<SecurityIdentity> ofToken(String hash, Instant now) {
        Optional<People.Token> token = facts.store().people().token(hash).filter(t -> t.isGoodAt(now));
        token.filter(t -> t.used().map(u -> now.isAfter(u.plus(NOTED))).orElse(true))
                .ifPresent(t -> facts.store().people().used(hash, now));
        return token.map(t -> {
            QuarkusSecurityIdentity.Builder identity = QuarkusSecurityIdentity.builder()
                    .setPrincipal(new QuarkusPrincipal(
                            t.name() + " (token " + t.id().substring(0, Math.min(8, t.id().length())) + ")"))
                    .addRoles(Roles.widened(t.roles()))
                    .addAttribute(Who.NAME, t.name())
                    .addAttribute(Who.KEY, hash);
            t.place().ifPresent(p -> identity.addAttribute(Who.PLACE, p));
            return identity.build();
        });
    }
}
