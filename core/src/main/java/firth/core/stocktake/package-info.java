/**
 * In what a catalog and a listing of a store differ.
 *
 * <p>May use: nothing else of the core.
 */
package firth.core.stocktake;
