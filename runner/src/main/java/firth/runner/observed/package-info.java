/** What readers of archives found, put together as lines of a fleet file, and told once. */
@NullMarked
package firth.runner.observed;

import org.jspecify.annotations.NullMarked;
