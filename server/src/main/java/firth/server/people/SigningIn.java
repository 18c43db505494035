package firth.server.people;

import com.fasterxml.jackson.databind.node.ObjectNode;
import firth.core.record.Deed;
import firth.exchange.Json;
import firth.server.platform.FactsHolder;
import firth.server.platform.Refused;
import firth.server.platform.Roles;
import firth.server.platform.Secrets;
import firth.store.People;
import io.quarkus.elytron.security.common.BcryptUtil;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import org.jboss.logging.Logger;

/** Lets people in who show who they are, and nobody else. */
@ApplicationScoped
class SigningIn {

    private static final Logger LOG = Logger.getLogger(SigningIn.class);

    /** So many wrong passwords in a row are let pass without a wait. */
    static final int FREE = 4;

    private static final Duration LONGEST_WAIT = Duration.ofMinutes(15);

    /** bcrypt looks at so many bytes and no further. */
    private static final int LONGEST = 72;

    static final int SHORTEST = 10;

    /** Compared with where nobody has the name, so that the time it takes does not tell; made when it is first wanted. */
    private static final class Nobody {
        static final String HASH = hash("nobody at all");
    }

    private final FactsHolder facts;
    private final MadeUpPeople madeUp;
    private final Clock clock;

    /** What the first administrator shows; nothing once there is one. */
    private volatile Optional<String> code = Optional.empty();

    SigningIn(FactsHolder facts, MadeUpPeople madeUp, Clock clock) {
        this.facts = facts;
        this.madeUp = madeUp;
        this.clock = clock;
    }

    void greet(@Observes StartupEvent start) {
        if (!madeUp.isDemo() && people().all().isEmpty()) {
            code = Optional.of(Secrets.makeShort());
            LOG.infof("Nobody may sign in yet. The first administrator begins with the one-time code %s", code.get());
        }
    }

    /** Whether the first administrator is still to come. */
    boolean awaitsFirst() {
        return code.isPresent();
    }

    Optional<String> code() {
        return code;
    }

    private People people() {
        return facts.store().people();
    }

    static String object(String... namesAndValues) {
        ObjectNode out = Json.MAPPER.createObjectNode();
        for (int i = 0; i < namesAndValues.length; i += 2) {
            out.put(namesAndValues[i], namesAndValues[i + 1]);
        }
        return out.toString();
    }

    /**
     * Signs somebody in.
     *
     * @return the secret of the session
     * @throws Refused where the password is not theirs, or they have to wait
     */
    String enter(String id, String password) {
        Instant now = clock.instant();
        Optional<People.Person> person = people().find(id).filter(p -> !p.away());
        person.flatMap(People.Person::lockedUntil).filter(now::isBefore).ifPresent(until -> {
            throw Refused.wait(Duration.between(now, until));
        });
        boolean right = BcryptUtil.matches(
                        password, person.flatMap(People.Person::password).orElseGet(() -> Nobody.HASH))
                && person.flatMap(People.Person::password).isPresent();
        if (!right) {
            person.ifPresent(p -> failed(p, now));
            throw Refused.unknown();
        }
        return begin(id, "sign-in");
    }

    private void failed(People.Person person, Instant now) {
        int failures = person.failures() + 1;
        people().failed(
                        person.id(),
                        failures,
                        failures <= FREE ? Optional.empty() : Optional.of(now.plus(wait(failures))));
    }

    /** Twice as long each time, up to a quarter of an hour. */
    static Duration wait(int failures) {
        Duration wait = Duration.ofSeconds(1L << Math.min(20, failures - FREE));
        return wait.compareTo(LONGEST_WAIT) < 0 ? wait : LONGEST_WAIT;
    }

    /** Begins a session of somebody known, however they showed it. */
    String begin(String person, String act) {
        String secret = Secrets.make();
        people().begin(Secrets.hash(secret), person, new Deed.Told(person, act, person, "{}"), clock.instant());
        return secret;
    }

    void leave(String session, String who) {
        people().end(session, new Deed.Told(who, "sign-out", who, "{}"), clock.instant());
    }

    /** Makes the first administrator, who may give every role to others and has them all. */
    synchronized String first(String shown, String id, String name, String password) {
        if (code.filter(c -> Secrets.same(c, shown)).isEmpty()) {
            throw Refused.unknown();
        }
        People.Person person = new People.Person(
                id,
                name,
                Optional.of(hash(password)),
                new TreeSet<>(
                        List.of(Roles.OPERATOR, Roles.PLANNER, Roles.KEEPER, Roles.APPROVER, Roles.ADMINISTRATOR)),
                false,
                0,
                Optional.empty());
        people().put(person, new Deed.Told(id, "first-administrator", id, object("name", name)), clock.instant());
        code = Optional.empty();
        return begin(id, "sign-in");
    }

    /** What is kept of a password. */
    static String hash(String password) {
        int length = password == null ? 0 : password.getBytes(StandardCharsets.UTF_8).length;
        if (length < SHORTEST || length > LONGEST) {
            throw new firth.server.platform.BadRequest(
                    "password", "is not of " + SHORTEST + " to " + LONGEST + " bytes");
        }
        return BcryptUtil.bcryptHash(password, 12);
    }
}
