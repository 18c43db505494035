/**
 * The chained record of what people and programs did: each entry holds the hash of the one before.
 *
 * <p>The trade's terms beside ours: the record is an audit log; a deed is an audit entry.
 *
 * <p>May use: nothing else of the core.
 */
@NullMarked
package firth.core.record;

import org.jspecify.annotations.NullMarked;
