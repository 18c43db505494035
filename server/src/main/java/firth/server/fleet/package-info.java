/**
 * The list of databases to be kept: who is enrolled, who follows what, who is missing, and whether each is ready.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code intake}.
 */
@NullMarked
package firth.server.fleet;

import org.jspecify.annotations.NullMarked;
