package firth.engines;

import static org.junit.jupiter.api.Assertions.assertEquals;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class EnginesTest {

    @ParameterizedTest
    @CsvSource({
        "postgresql, postgresql",
        "PostgreSQL, postgresql",
        "' PostgreSQL 15', postgresql",
        "MariaDB-10.11, mariadb",
        "SQLITE, sqlite",
        "SQLite3, sqlite",
        "SQL Server, sql",
        "SQLiteX, sqlitex",
        "'', ''",
        "15, ''"
    })
    void anEngineIsKnownHoweverItIsWritten(String stated, String word) {
        assertEquals(word, Engines.word(stated));
    }
}
