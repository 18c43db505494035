package firth.server.platform;

import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/** What people and programs may do (docs/people.md). Whoever has any role may look. */
public final class Roles {

    /** Looks at everything, changes nothing. */
    public static final String VIEWER = "viewer";
    /** Imports, accepts findings, writes notes, orders runs, takes stock. */
    public static final String OPERATOR = "operator";
    /** Writes policies, enrols and assigns databases. */
    public static final String PLANNER = "planner";
    /** Places and lifts holds, asks for purges. */
    public static final String KEEPER = "keeper";
    /** Approves purges another has asked for. */
    public static final String APPROVER = "approver";
    /** Says who may do what. */
    public static final String ADMINISTRATOR = "administrator";
    /** A program on a database host: reports facts and asks for runs that are due. */
    public static final String RUNNER = "runner";
    /** A program that restores to prove something: asks for drills and tells of those it asked for. */
    public static final String DRILLER = "driller";
    /** A program at one store: lists what lies there and carries out approved purges. */
    public static final String AGENT = "agent";

    public static final List<String> OF_PEOPLE = List.of(VIEWER, OPERATOR, PLANNER, KEEPER, APPROVER, ADMINISTRATOR);
    public static final List<String> OF_PROGRAMS = List.of(VIEWER, OPERATOR, RUNNER, DRILLER, AGENT);

    private Roles() {}

    /** With what is understood: every person, and every program that is not bound to one task, may look. */
    public static Set<String> widened(Set<String> roles) {
        Set<String> out = new TreeSet<>(roles);
        if (OF_PEOPLE.stream().anyMatch(roles::contains)) {
            out.add(VIEWER);
        }
        return out;
    }
}
