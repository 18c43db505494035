package firth.wording;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.model.Evidence;
import firth.core.restore.Footing;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;

class EvidenceWordsTest {

    private static String of(Map<Evidence, Integer> backups) {
        TreeMap<Evidence, Integer> sorted = new TreeMap<>(backups);
        return EvidenceWords.of(new Footing(sorted.firstKey(), sorted));
    }

    @Test
    void saysWhatCoverRestsOn() {
        TreeMap<Evidence, Integer> backups = new TreeMap<>(Map.of(Evidence.TOLD, 1, Evidence.READ, 9));
        assertEquals(
                "Of the 10 that cover as a whole rests on, 1 is known by word alone and 9 are read through.",
                EvidenceWords.ofCover(new Footing(Evidence.TOLD, backups)));
        backups.clear();
        backups.put(Evidence.READ, 1);
        assertEquals(
                "Cover as a whole rests on one backup, which is read through.",
                EvidenceWords.ofCover(new Footing(Evidence.READ, backups)));
    }

    @Test
    void saysWhatAWayRestsOn() {
        assertEquals("The one backup it reads is checked by checksum.", of(Map.of(Evidence.CHECKED, 1)));
        assertEquals("Of the 38 backups it reads, all are known by word alone.", of(Map.of(Evidence.TOLD, 38)));
        assertEquals(
                "Of the 41 backups it reads, 3 are listed by the store and 38 are read through.",
                of(Map.of(Evidence.READ, 38, Evidence.LISTED, 3)));
        assertEquals(
                "Of the 2 backups it reads, 1 is known by word alone and 1 is proved by a restore.",
                of(Map.of(Evidence.TOLD, 1, Evidence.RESTORED, 1)));
    }
}
