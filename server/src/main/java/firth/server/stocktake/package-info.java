/**
 * Comparing stores with the catalog, and deciding about what was found.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}.
 */
@NullMarked
package firth.server.stocktake;

import org.jspecify.annotations.NullMarked;
