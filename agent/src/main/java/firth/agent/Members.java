package firth.agent;

import java.io.IOException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** What a copy consists of: a file, or a directory with all that is below it. */
final class Members {

    private Members() {}

    /**
     * What a copy takes up, and what tells whether it has changed.
     *
     * @param sizes of its files in bytes, by their paths from its root, of a file by none; links in it count for nothing
     * @param mark the same as long as no file of it is replaced, added, taken away or written to
     */
    record Weighed(Map<String, Long> sizes, String mark) {

        long bytes() {
            return sizes.values().stream().mapToLong(Long::longValue).sum();
        }
    }

    /** @throws Unsafe where it holds something that is neither file, directory nor link, or another file system */
    static Weighed weigh(Tree.Held in, String name) throws IOException {
        BasicFileAttributes at = in.at(name);
        if (at.isRegularFile()) {
            return new Weighed(Map.of("", at.size()), mark(at));
        }
        if (!at.isDirectory()) {
            throw new Unsafe("it is neither a plain file nor a directory");
        }
        Map<String, Long> sizes = new TreeMap<>();
        List<String> marks = new ArrayList<>();
        try (Tree.Held inner = in.enter(name)) {
            for (String own : inner.names()) {
                if (inner.at(own).isSymbolicLink()) {
                    marks.add(own);
                } else {
                    Weighed weighed = weigh(inner, own);
                    weighed.sizes().forEach((path, size) -> sizes.put(path.isEmpty() ? own : own + "/" + path, size));
                    marks.add(own + weighed.mark());
                }
            }
        }
        marks.sort(null);
        return new Weighed(sizes, at.fileKey() + marks.toString());
    }

    private static String mark(BasicFileAttributes of) {
        return of.fileKey() + " " + of.size() + " " + of.lastModifiedTime();
    }

    /** Deletes it with all that is below it; links go, and what they point at stays. */
    static void delete(Tree.Held in, String name) throws IOException {
        if (in.at(name).isDirectory()) {
            try (Tree.Held inner = in.enter(name)) {
                for (String own : inner.names()) {
                    delete(inner, own);
                }
            }
            in.stream().deleteDirectory(Path.of(name));
        } else {
            in.stream().deleteFile(Path.of(name));
        }
    }
}
