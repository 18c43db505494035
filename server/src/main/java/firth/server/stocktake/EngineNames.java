package firth.server.stocktake;

import firth.core.stocktake.Stocktake;
import firth.engines.mariadb.MariadbFiles;
import firth.engines.postgres.PostgresFiles;
import firth.engines.sqlite.SqliteFiles;
import java.util.Optional;

/** What the engines Firth reads keep beside their backups. */
final class EngineNames implements Stocktake.Naming {

    @Override
    public boolean isCompanion(String name) {
        return PostgresFiles.isCompanion(name) || MariadbFiles.isCompanion(name);
    }

    @Override
    public Optional<String> root(String path) {
        return SqliteFiles.ofLog(path);
    }
}
