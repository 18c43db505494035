package firth.server.stores;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What all databases together have in each store. */
final class StoreSums {

    private final Map<String, InStore> stores = new HashMap<>();

    private StoreSums() {}

    static StoreSums of(List<StockPart.Stock> all) {
        StoreSums out = new StoreSums();
        for (StockPart.Stock stock : all) {
            stock.lying().forEach((store, lying) -> out.in(store).add(lying));
            stock.back().forEach((store, bytes) -> out.in(store).add(bytes));
            stock.came().forEach((store, came) -> out.in(store).add(came));
        }
        return out;
    }

    InStore in(String store) {
        return stores.computeIfAbsent(store, s -> new InStore());
    }

    /** One store. Bytes; copies of unknown size take none. */
    static final class InStore {

        private double held;
        private double needed;
        private double givesWay;
        private final double[] back = new double[StoreRooms.DAYS + 1];
        private final List<Double> written = new ArrayList<>();
        private final List<Double> copied = new ArrayList<>();
        private final List<Double> read = new ArrayList<>();

        private void add(StockPart.LyingBytes lying) {
            held += lying.held();
            needed += lying.needed();
            givesWay += lying.givesWay();
        }

        private void add(double[] bytes) {
            for (int d = 0; d < back.length; d++) {
                back[d] += bytes[d];
            }
        }

        private void add(StockPart.Came came) {
            written.addAll(came.written());
            copied.addAll(came.copied());
            read.addAll(came.read());
        }

        double held() {
            return held;
        }

        double needed() {
            return needed;
        }

        /** Of what a store that gives way to new backups deletes by itself. */
        double givesWay() {
            return givesWay;
        }

        /** Held on each of the days before; the last is now. */
        double[] back() {
            return back;
        }

        /** How fast full backups that landed here as they ended came over the last weeks. */
        StoresView.@Nullable Rate written() {
            return rate(written);
        }

        /** How fast those came that were copied here after they had ended. */
        StoresView.@Nullable Rate copied() {
            return rate(copied);
        }

        /** How fast drills read from it. */
        StoresView.@Nullable Rate read() {
            return rate(read);
        }

        private static StoresView.@Nullable Rate rate(List<Double> which) {
            double[] out =
                    which.stream().mapToDouble(Double::doubleValue).sorted().toArray();
            return out.length == 0 ? null : new StoresView.Rate(out[out.length / 2], out[out.length - 1], out.length);
        }
    }
}
