/**
 * What a fleet consists of and what became of it: databases, stores, sites, routes, policies, runs, backups and their copies,
 * as immutable values. No rule is worked out here beyond what a value says of itself.
 *
 * <p>The trade's terms beside ours: a position is an LSN, an SCN, a binary log coordinate or a GTID; a lineage is a timeline or an
 * incarnation; a stream is a redo thread or a log stream; a lock makes a copy immutable (write once, read many); a hold is a
 * legal hold; a drill is a restore test; an accept is a risk acceptance; a sighting is a discovered database.
 *
 * <p>May use: {@code time}.
 */
@NullMarked
package firth.core.model;

import org.jspecify.annotations.NullMarked;
