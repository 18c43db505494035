/**
 * What a fleet consists of and what became of it: databases, stores, sites, routes, policies, runs, backups and their copies,
 * as immutable values. No rule is worked out here beyond what a value says of itself.
 *
 * <p>May use: {@code time}.
 */
package firth.core.model;
