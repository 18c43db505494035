/**
 * What is read and written: the fleet file, tables, imports and documents, from bytes to the core's values and back.
 * Bad lines are told with file, line and field, and what is good is kept.
 *
 * <p>May use: the core and {@code wording}.
 */
@NullMarked
package firth.exchange;

import org.jspecify.annotations.NullMarked;
