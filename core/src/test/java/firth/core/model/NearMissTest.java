package firth.core.model;

import static org.junit.jupiter.api.Assertions.assertEquals;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class NearMissTest {

    @ParameterizedTest
    @CsvSource({
        "fares, fares, false",
        "fares, Fares, true",
        "crew-rota, crew_rota, true",
        "bookings, booking, true",
        "bookings, bookingss, true",
        "bookings, bookinks, true",
        "bookings, berths, false",
        "bookings, bokinks, false",
        "fuel, fuels, false",
        "fuel, FUEL, true",
        "kiosk-north, kiosk-south, false",
        "tides1, tides2, true",
    })
    void isANameThatHardlyDiffers(String one, String other, boolean near) {
        assertEquals(near, NearMiss.between(one, other));
        assertEquals(near, NearMiss.between(other, one));
    }
}
