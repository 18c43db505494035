/**
 * The host that restores: what Firth proposes into a place of its own, to have the engine prove it, and what somebody began into one that
 * stays; it tells how that goes.
 */
@NullMarked
package firth.runner.drills;

import org.jspecify.annotations.NullMarked;
