/**
 * The answers kept of every database, who needs a new one and when, what is wrong in the fleet now, and telling browsers that
 * something moved.
 *
 * <p>May use of the server: {@code platform}.
 */
@NullMarked
package firth.server.evaluation;

import org.jspecify.annotations.NullMarked;
