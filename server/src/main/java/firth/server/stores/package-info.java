/**
 * What the stores hold, held and will hold.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code policies}, {@code stocktake}, {@code drills}.
 */
@NullMarked
package firth.server.stores;

import org.jspecify.annotations.NullMarked;
