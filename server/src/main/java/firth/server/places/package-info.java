/**
 * Where backups lie and how they get there: sites, stores and routes, made, changed and retired.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code intake}.
 */
@NullMarked
package firth.server.places;

import org.jspecify.annotations.NullMarked;
