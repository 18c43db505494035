/**
 * The program at a store: lists what lies there, and deletes what Firth has proved and signed (docs/agents.md).
 *
 * <p>May use: {@code exchange}, and {@code engines} for what it keeps of files it has read.
 */
@NullMarked
package firth.agent;

import org.jspecify.annotations.NullMarked;
