package firth.server.people;

import firth.core.record.Deed;
import firth.exchange.Json;
import firth.server.platform.BadRequest;
import firth.server.platform.FactsHolder;
import firth.server.platform.NotFound;
import firth.server.platform.Refused;
import firth.server.platform.Roles;
import firth.server.platform.Secrets;
import firth.server.platform.Who;
import firth.store.People;
import io.quarkus.elytron.security.common.BcryptUtil;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
import java.util.regex.Pattern;

/** The people and programs Firth knows, as administrators change them. */
@ApplicationScoped
class Directory {

    private static final Pattern ID = Pattern.compile("[a-z0-9][a-z0-9._@-]{0,59}");
    private static final int LONGEST = 120;

    private final FactsHolder facts;
    private final Clock clock;

    Directory(FactsHolder facts, Clock clock) {
        this.facts = facts;
        this.clock = clock;
    }

    private People people() {
        return facts.store().people();
    }

    Optional<People.Person> find(String id) {
        return people().find(id);
    }

    void checkNew(String id, String name) {
        if (id == null || !ID.matcher(id).matches()) {
            throw new BadRequest("id", "is not of 1 to 60 small letters, digits, '.', '_', '-' and '@'");
        }
        checkName(name);
    }

    private static void checkName(String name) {
        if (name == null || name.isBlank() || name.length() > LONGEST) {
            throw new BadRequest("name", "is not of 1 to " + LONGEST + " characters");
        }
    }

    private static void checkRoles(List<String> roles, List<String> known) {
        if (roles == null || roles.isEmpty() || !known.containsAll(roles)) {
            throw new BadRequest("roles", "are not some of " + String.join(", ", known));
        }
    }

    /** States a person: a new one, or one who is known otherwise than before. */
    void put(String id, PeopleView.PersonWritten said, String by) {
        checkNew(id, said.name());
        checkRoles(said.roles(), Roles.OF_PEOPLE);
        Optional<People.Person> known = find(id);
        boolean loses = said.away() || !said.roles().contains(Roles.ADMINISTRATOR);
        if (known.filter(this::isLastAdministrator).isPresent() && loses) {
            throw new BadRequest("roles", "would leave no administrator: give the role to another first");
        }
        people().put(
                        new People.Person(
                                id,
                                said.name().strip(),
                                said.password() == null
                                        ? known.flatMap(People.Person::password)
                                        : Optional.of(SigningIn.hash(said.password())),
                                new TreeSet<>(said.roles()),
                                said.away(),
                                0,
                                Optional.empty()),
                        told(
                                by,
                                "person",
                                id,
                                Map.of(
                                        "name",
                                        said.name(),
                                        "roles",
                                        said.roles(),
                                        "away",
                                        said.away(),
                                        "password",
                                        said.password() != null)),
                        clock.instant());
    }

    private boolean isLastAdministrator(People.Person person) {
        List<String> administrators = people().all().stream()
                .filter(p -> !p.away() && p.roles().contains(Roles.ADMINISTRATOR))
                .map(People.Person::id)
                .toList();
        return administrators.equals(List.of(person.id()));
    }

    void changeOwn(String id, String old, String password) {
        People.Person p = find(id).filter(x -> x.password().isPresent())
                .orElseThrow(() -> new NotFound("Firth keeps no password of " + id + "."));
        if (!BcryptUtil.matches(old, p.password().get())) {
            throw Refused.unknown();
        }
        people().put(
                        new People.Person(
                                id,
                                p.name(),
                                Optional.of(SigningIn.hash(password)),
                                p.roles(),
                                p.away(),
                                0,
                                Optional.empty()),
                        told(id, "password", id, Map.of()),
                        clock.instant());
    }

    /** Knows somebody another service vouches for: by name and roles as it says, those of before where it says none. */
    void vouchedFor(String id, String name, Set<String> roles) {
        Optional<People.Person> known = find(id);
        known.filter(p -> p.away() || p.password().isPresent()).ifPresent(p -> {
            throw Refused.elsewhere(
                    p.away() ? "You may not sign in any more." : "Firth itself keeps a password of " + id + ".");
        });
        Set<String> now = roles.isEmpty()
                ? new TreeSet<>(known.map(People.Person::roles).orElseGet(TreeSet::new))
                : new TreeSet<>(roles);
        if (now.isEmpty()) {
            now.add(Roles.VIEWER);
        }
        if (known.filter(p -> p.name().equals(name) && p.roles().equals(now)).isEmpty()) {
            people().put(
                            new People.Person(
                                    id, name, known.flatMap(People.Person::password), now, false, 0, Optional.empty()),
                            told(Who.FIRTH, "person", id, Map.of("name", name, "roles", now, "vouched", true)),
                            clock.instant());
        }
    }

    PeopleView.TokenMade make(PeopleView.TokenWritten said, String by) {
        checkName(said.name());
        checkRoles(said.roles(), Roles.OF_PROGRAMS);
        String place = Optional.ofNullable(said.place())
                .map(String::strip)
                .filter(p -> !p.isEmpty())
                .orElseThrow(
                        () -> new BadRequest(
                                "place",
                                "is missing: of which host (a runner), store (an agent) or database (database:ID) does it speak?"));
        Instant now = clock.instant();
        if (said.until() != null && !said.until().isAfter(now)) {
            throw new BadRequest("until", "is not in the future");
        }
        String secret = Secrets.make();
        String id = UUID.randomUUID().toString();
        people().put(
                        new People.Token(
                                Secrets.hash(secret),
                                id,
                                said.name().strip(),
                                new TreeSet<>(said.roles()),
                                Optional.of(place),
                                now,
                                by,
                                Optional.ofNullable(said.until()),
                                Optional.empty(),
                                Optional.empty()),
                        told(by, "token", id, Map.of("name", said.name(), "roles", said.roles(), "place", place)),
                        now);
        return new PeopleView.TokenMade(id, secret);
    }

    void revoke(String id, String by) {
        People.Token t = people().tokens().stream()
                .filter(x -> x.id().equals(id))
                .findFirst()
                .orElseThrow(() -> new NotFound("There is no token " + id + "."));
        if (t.revoked().isEmpty()) {
            Instant now = clock.instant();
            people().put(
                            new People.Token(
                                    t.hash(),
                                    t.id(),
                                    t.name(),
                                    t.roles(),
                                    t.place(),
                                    t.made(),
                                    t.by(),
                                    t.until(),
                                    t.used(),
                                    Optional.of(now)),
                            told(by, "token-revoked", id, Map.of("name", t.name())),
                            now);
        }
    }

    PeopleView view() {
        Instant now = clock.instant();
        return new PeopleView(
                people().all().stream()
                        .map(p -> new PeopleView.PersonView(
                                p.id(),
                                p.name(),
                                List.copyOf(p.roles()),
                                p.password().isPresent(),
                                p.away()))
                        .toList(),
                people().tokens().stream()
                        .map(t -> new PeopleView.TokenView(
                                t.id(),
                                t.name(),
                                List.copyOf(t.roles()),
                                t.place().orElse(null),
                                t.made(),
                                t.by(),
                                t.until().orElse(null),
                                t.used().orElse(null),
                                t.revoked().isPresent() ? "revoked" : t.isGoodAt(now) ? "good" : "ended"))
                        .toList(),
                Roles.OF_PEOPLE,
                Roles.OF_PROGRAMS);
    }

    private static Deed.Told told(String who, String act, String about, Map<String, ?> detail) {
        return new Deed.Told(
                who,
                act,
                about,
                Json.MAPPER.valueToTree(new java.util.TreeMap<>(detail)).toString());
    }
}
