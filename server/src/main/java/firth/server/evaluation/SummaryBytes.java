package firth.server.evaluation;

import com.esotericsoftware.kryo.Kryo;
import com.esotericsoftware.kryo.KryoException;
import com.esotericsoftware.kryo.Serializer;
import com.esotericsoftware.kryo.io.Input;
import com.esotericsoftware.kryo.io.Output;
import com.esotericsoftware.kryo.util.DefaultInstantiatorStrategy;
import com.esotericsoftware.kryo.util.Pool;
import firth.core.model.Database;
import firth.core.model.PolicyVersion;
import java.io.IOException;
import java.net.URISyntaxException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.BiFunction;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import org.objenesis.strategy.StdInstantiatorStrategy;

/** The parts of a summary as bytes, which the very program that wrote them reads again, and no other. */
final class SummaryBytes {

    private static final int USUAL = 16 << 10;

    private static final Pool<Writer> WRITERS = new Pool<>(true, false, 8) {
        @Override
        protected Writer create() {
            Writer kryo = new Writer();
            kryo.setRegistrationRequired(false);
            kryo.setReferences(true);
            kryo.setInstantiatorStrategy(new DefaultInstantiatorStrategy(new StdInstantiatorStrategy()));
            kryo.register(EnumMap.class, new NoEnumMap());
            kryo.register(Database.class, new ByName<>(Database::id, FleetNow::database));
            kryo.register(
                    PolicyVersion.class,
                    new ByName<>(
                            v -> v.version() + " " + v.id(),
                            (fleet, name) -> fleet.fleet().versions(name.substring(name.indexOf(' ') + 1)).stream()
                                    .filter(v -> name.startsWith(v.version() + " "))
                                    .findFirst()));
            return kryo;
        }
    };

    private SummaryBytes() {}

    /** Knows, while it reads, the records that what it reads rests on. */
    private static final class Writer extends Kryo {
        private @Nullable FleetNow fleet;
    }

    /** An EnumMap does not say of which enum its keys are, so that an empty one would not come back as it was: parts have none. */
    private static final class NoEnumMap extends Serializer<EnumMap<?, ?>> {
        @Override
        public void write(Kryo kryo, Output out, EnumMap<?, ?> map) {
            throw new IllegalStateException("A part has an EnumMap: make it another map: " + map);
        }

        @Override
        public EnumMap<?, ?> read(Kryo kryo, Input in, Class<? extends EnumMap<?, ?>> type) {
            throw new KryoException("There are no EnumMaps");
        }
    }

    /** What stands in the records already is written by its name alone. */
    private static final class ByName<T> extends Serializer<T> {
        private final Function<T, String> name;
        private final BiFunction<FleetNow, String, Optional<T>> found;

        ByName(Function<T, String> name, BiFunction<FleetNow, String, Optional<T>> found) {
            super(false, true);
            this.name = name;
            this.found = found;
        }

        @Override
        public void write(Kryo kryo, Output out, T value) {
            out.writeString(name.apply(value));
        }

        @Override
        public T read(Kryo kryo, Input in, Class<? extends T> type) {
            String known = in.readString();
            return Optional.ofNullable(((Writer) kryo).fleet)
                    .flatMap(fleet -> found.apply(fleet, known))
                    .orElseThrow(() -> new KryoException("There is no " + known));
        }
    }

    /** @param byName the parts, each by its name */
    static byte[] of(Map<String, Object> byName) {
        Writer kryo = WRITERS.obtain();
        try (Output out = new Output(USUAL, -1)) {
            kryo.writeClassAndObject(out, byName);
            return out.toBytes();
        } finally {
            WRITERS.free(kryo);
        }
    }

    /**
     * What was written; nothing where it cannot be read any more, which costs a look at the database.
     *
     * @param fleet the records it rests on
     */
    static Optional<Map<String, Object>> read(byte[] bytes, FleetNow fleet) {
        Writer kryo = WRITERS.obtain();
        kryo.fleet = fleet;
        try (Input in = new Input(bytes)) {
            @SuppressWarnings("unchecked")
            Map<String, Object> out = (Map<String, Object>) kryo.readClassAndObject(in);
            return Optional.ofNullable(out);
        } catch (KryoException | IndexOutOfBoundsException | ClassCastException e) {
            return Optional.empty();
        } finally {
            kryo.fleet = null;
            WRITERS.free(kryo);
        }
    }

    /** Tells this program from every other: by the file it runs from; where it runs from none, it is like no other. */
    static String program() {
        try {
            Path file = Path.of(SummaryBytes.class
                    .getProtectionDomain()
                    .getCodeSource()
                    .getLocation()
                    .toURI());
            if (Files.isRegularFile(file)) {
                return file.getFileName() + " " + Files.size(file) + " " + Files.getLastModifiedTime(file);
            }
        } catch (URISyntaxException | IOException | RuntimeException e) {
            // It runs from something that is no file: then nothing is read that another wrote.
            return UUID.randomUUID().toString();
        }
        return UUID.randomUUID().toString();
    }
}
