/**
 * What the agents of stores ask for and tell. It translates; the work is done in the features it calls.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code purge}, {@code stocktake}, {@code sheets}.
 */
@NullMarked
package firth.server.agents;

import org.jspecify.annotations.NullMarked;
