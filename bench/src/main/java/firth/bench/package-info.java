/**
 * Benchmarks of the core, the reader and the store; figures are ratios within one run.
 *
 * <p>May use: the core, {@code exchange} and {@code store}.
 */
package firth.bench;
