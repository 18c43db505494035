/**
 * Real servers of engines, each in a place of its own on this machine: for the tests of what reads their files, and for the small
 * real fleet of the demo.
 *
 * <p>May use: nothing of Firth.
 */
@NullMarked
package firth.servers;

import org.jspecify.annotations.NullMarked;
