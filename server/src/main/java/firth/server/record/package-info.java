/**
 * What people and programs did, and records somebody tried to turn.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}.
 */
@NullMarked
package firth.server.record;

import org.jspecify.annotations.NullMarked;
