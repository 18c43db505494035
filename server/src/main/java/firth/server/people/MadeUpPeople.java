package firth.server.people;

import firth.core.record.Deed;
import firth.server.platform.FactsHolder;
import firth.server.platform.Roles;
import firth.server.platform.Who;
import firth.store.People;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import org.eclipse.microprofile.config.inject.ConfigProperty;

/** The people of Saltmarsh Ferries, who are signed in without a password where Firth shows its demo data. */
@ApplicationScoped
public class MadeUpPeople {

    private static final List<People.Person> PEOPLE = List.of(
            person("ines", "Ines Brandt", Roles.OPERATOR, Roles.PLANNER, Roles.KEEPER),
            person("tomas", "Tomas Reed", Roles.OPERATOR, Roles.APPROVER),
            person("maren", "Maren Holt", Roles.KEEPER, Roles.APPROVER),
            person("oona", "Oona Lisk", Roles.VIEWER),
            person(
                    "harald",
                    "Harald Vane",
                    Roles.OPERATOR,
                    Roles.PLANNER,
                    Roles.KEEPER,
                    Roles.APPROVER,
                    Roles.ADMINISTRATOR));

    private final FactsHolder facts;
    private final Clock clock;
    private final boolean demo;

    MadeUpPeople(FactsHolder facts, Clock clock, @ConfigProperty(name = "firth.demo") boolean demo) {
        this.facts = facts;
        this.clock = clock;
        this.demo = demo;
    }

    private static People.Person person(String id, String name, String... roles) {
        return new People.Person(id, name, Optional.empty(), new TreeSet<>(Set.of(roles)), false, 0, Optional.empty());
    }

    /** Whether people are made up here and signed in by themselves. */
    boolean isDemo() {
        return demo;
    }

    void enrol(@Observes StartupEvent start) {
        if (demo) {
            People people = facts.store().people();
            PEOPLE.stream()
                    .filter(p -> people.find(p.id()).isEmpty())
                    .forEach(p -> people.put(p, new Deed.Told(Who.FIRTH, "person", p.id(), "{}"), clock.instant()));
        }
    }

    /** Who is signed in where nobody chose; nobody but in the demo. */
    Optional<People.Person> first() {
        return demo ? facts.store().people().find(PEOPLE.get(0).id()) : Optional.empty();
    }

    /** Who one may be in the demo. */
    List<People.Person> all() {
        return demo
                ? facts.store().people().all().stream()
                        .filter(p -> !p.away() && p.password().isEmpty())
                        .toList()
                : List.of();
    }
}
