/**
 * The chained record of what people and programs did: each entry holds the hash of the one before.
 *
 * <p>May use: nothing else of the core.
 */
package firth.core.record;
