package firth.server.platform;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ListPartTest {

    private static List<Integer> of(int from, int most) {
        ListPart stretch = new ListPart();
        stretch.from = from;
        stretch.most = most;
        return stretch.of(List.of(0, 1, 2, 3, 4));
    }

    @ParameterizedTest
    @CsvSource({"0, 2, '[0, 1]'", "3, 500, '[3, 4]'", "4, 0, '[]'", "5, 1, '[]'", "2147483647, 500, '[]'"})
    void isAsMuchAsThereIs(int from, int most, String expected) {
        assertEquals(expected, of(from, most).toString());
    }

    @ParameterizedTest
    @CsvSource({"-1, 2", "0, -1", "0, 501"})
    void isRefusedWhereItIsNone(int from, int most) {
        assertThrows(BadRequest.class, () -> of(from, most));
    }

    @Test
    void wordsAreFoundInWhateverCase() {
        SearchWords words = SearchWords.of(" Near  QUAY ");
        assertTrue(words.areIn(Stream.of(null, "Quay", "the near one")));
        assertFalse(words.areIn(Stream.of("Quay")));
        assertTrue(SearchWords.of("").areIn(Stream.empty()));
        assertTrue(SearchWords.of(null).areIn(Stream.empty()));
    }
}
