-- 200,000 lots beside the demo's own, for looking at long lists: sqlite3 DATA/records.db < scripts/many-lots.sql, while no server runs on it.
WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 200000)
INSERT INTO lot (accession, collection, species, gross_mass_g, tare_mass_g, net_mass_g, seed_estimate, moisture_pct, bay, status)
SELECT printf('HV-%08d', 10000 + i), l.collection, l.species, round(l.gross_mass_g + i % 97, 3), l.tare_mass_g, round(l.net_mass_g + i % 97, 3),
  l.seed_estimate + i % 13, l.moisture_pct, l.bay, l.status
FROM n JOIN lot l ON l.id = 1 + (i % 500);
