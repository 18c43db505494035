package firth.core.model;

import java.util.Optional;
import java.util.OptionalDouble;

/**
 * A part of a database that can be restored by itself.
 *
 * @param kind what the engine calls parts of its sort, such as a schema
 */
public record Component(String name, Optional<String> kind, OptionalDouble bytes) {}
