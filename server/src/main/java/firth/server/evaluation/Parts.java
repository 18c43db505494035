package firth.server.evaluation;

import firth.core.model.Database;
import java.util.List;

/**
 * One part of the answer of every database but standbys, by id.
 *
 * @param each in the order of the databases
 */
public record Parts<T>(FleetNow now, List<Database> databases, List<T> each) {}
