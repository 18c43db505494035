/**
 * In what a catalog and a listing of a store differ.
 *
 * <p>The trade's terms beside ours: a stocktake is a reconciliation of catalog and storage; a stray is an orphan.
 *
 * <p>May use: nothing else of the core.
 */
@NullMarked
package firth.core.stocktake;

import org.jspecify.annotations.NullMarked;
