/**
 * What every feature stands on: errors as people read them, the clock, the file of facts, who a request is of and which roles
 * there are.
 *
 * <p>May use nothing else of the server.
 */
@NullMarked
package firth.server.platform;

import org.jspecify.annotations.NullMarked;
