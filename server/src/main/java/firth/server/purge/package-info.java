/**
 * Freeing room: what may go, the proof, asking, approving, and handing out batch by batch.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code database}, {@code policies}.
 */
@NullMarked
package firth.server.purge;

import org.jspecify.annotations.NullMarked;
