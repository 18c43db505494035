package firth.core.cover;

import static org.junit.jupiter.api.Assertions.assertEquals;

import firth.core.model.Hazard;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

class DepthPieceTest {

    private static Instant at(int day) {
        return Instant.parse("2026-11-01T00:00:00Z").plusSeconds(86_400L * day);
    }

    private static Piece piece(int from, int to) {
        return new Piece("1", at(from), at(to));
    }

    @Test
    void isDeeperWhereMoreHazardsAreSurvived() {
        List<DepthPiece> layered = DepthPiece.layered(Map.of(
                Hazard.MISHAP, List.of(piece(0, 10)),
                Hazard.SITE_LOSS, List.of(piece(2, 8)),
                Hazard.SABOTAGE, List.of(piece(5, 8))));
        assertEquals(
                List.of(
                        new DepthPiece(at(0), at(2), Set.of(Hazard.MISHAP)),
                        new DepthPiece(at(2), at(5), Set.of(Hazard.MISHAP, Hazard.SITE_LOSS)),
                        new DepthPiece(at(5), at(8), Set.of(Hazard.MISHAP, Hazard.SITE_LOSS, Hazard.SABOTAGE)),
                        new DepthPiece(at(8), at(10), Set.of(Hazard.MISHAP))),
                layered);
    }

    @Test
    void leavesHolesAlone() {
        List<DepthPiece> layered = DepthPiece.layered(Map.of(Hazard.MISHAP, List.of(piece(0, 2), piece(4, 6))));
        assertEquals(
                List.of(at(0), at(4)), layered.stream().map(DepthPiece::from).toList());
    }

    @Test
    void keepsMomentsOnTheirOwnWithAllTheySurvive() {
        List<DepthPiece> layered = DepthPiece.layered(Map.of(
                Hazard.MISHAP,
                List.of(piece(3, 3)),
                Hazard.SITE_LOSS,
                List.of(piece(3, 3)),
                Hazard.SABOTAGE,
                List.of()));
        assertEquals(List.of(new DepthPiece(at(3), at(3), Set.of(Hazard.MISHAP, Hazard.SITE_LOSS))), layered);
    }

    @Test
    void aMomentOnItsOwnWithinAStretchSurvivesWhatTheStretchDoesToo() {
        List<DepthPiece> layered = DepthPiece.layered(
                Map.of(Hazard.MISHAP, List.of(piece(0, 10)), Hazard.SITE_LOSS, List.of(piece(3, 3))));
        assertEquals(
                new DepthPiece(at(3), at(3), Set.of(Hazard.MISHAP, Hazard.SITE_LOSS)),
                layered.stream()
                        .filter(p -> p.from().equals(p.to()))
                        .findFirst()
                        .orElseThrow());
    }

    @Test
    void isNothingOfNothing() {
        assertEquals(List.of(), DepthPiece.layered(Map.of()));
    }
}
