/**
 * Comparing stores with the catalog, and deciding about what was found.
 *
 * <p>May use of the server: {@code platform}, {@code evaluation}.
 */
package firth.server.stocktake;
