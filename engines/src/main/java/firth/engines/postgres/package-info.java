/**
 * Write-ahead logs, timelines and base backups of PostgreSQL 13 to 17, read from their published layout.
 *
 * <p>A position is a log sequence number, a lineage a timeline, its number the timeline's.
 *
 * <p>May use: {@code engines}, {@code core.model}.
 */
@NullMarked
package firth.engines.postgres;

import org.jspecify.annotations.NullMarked;
