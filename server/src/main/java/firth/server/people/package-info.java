/**
 * Who may do what, signing in and out, and finding whom a request is of.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}.
 */
@NullMarked
package firth.server.people;

import org.jspecify.annotations.NullMarked;
