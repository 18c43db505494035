/**
 * What the stores hold, held and will hold.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}, {@code policies}, {@code stocktake}, {@code drills}.
 */
package firth.server.stores;
