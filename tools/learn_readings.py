"""Learns how readings of pictures are judged, and writes `rushweed/core/cut/seeing/weights.npz`.

    python tools/learn_readings.py --real PICTURES TRUTH [--real PICTURES TRUTH …] [--each N]

PICTURES is a folder of real sheets, TRUTH a JSON file that says of each how it is laid out, in what
fold it is (sheets of one game are in one fold), and its tags. Generated sheets are learned from
too. What is told about accuracy comes from folds that were not learned from. Wants LightGBM, which
nothing else of the project does.
"""

from __future__ import annotations

import argparse
import datetime
import json
import sys
from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from pathlib import Path
from typing import Any

import lightgbm
import numpy as np

ROOT = Path(__file__).parent.parent
sys.path.insert(0, str(ROOT))

from rushweed.core.arrays import Mask  # noqa: E402
from rushweed.core.cut.inspect import MOST_READINGS, kind_of  # noqa: E402
from rushweed.core.cut.loose import loose_pieces  # noqa: E402
from rushweed.core.cut.regions import regions_of  # noqa: E402
from rushweed.core.cut.seeing import readings  # noqa: E402
from rushweed.core.cut.seeing.counting import told_apart  # noqa: E402
from rushweed.core.cut.seeing.divisions import Divisions, divisions  # noqa: E402
from rushweed.core.cut.seeing.evidence import LOOSE, ONE_PICTURE, Scene, evidence, scene  # noqa: E402
from rushweed.core.cut.seeing.hints import sizes_in  # noqa: E402
from rushweed.core.cut.seeing.packs import Pack, Votes, votes_of  # noqa: E402
from rushweed.core.cut.seeing.profiles import measure  # noqa: E402
from rushweed.core.cut.seeing.ranked import LIKELY, Ranked, Reading  # noqa: E402
from rushweed.core.cut.seeing.trees import WEIGHTS, Trees, Weights, logistic  # noqa: E402
from rushweed.core.gather.colour_key import apply_key, guess_key  # noqa: E402
from rushweed.core.gather.pictures import Picture, read_picture  # noqa: E402
from rushweed.core.gather.solid import solid  # noqa: E402
from rushweed.core.gather.true_pixel import shrunk, true_pixel  # noqa: E402
from rushweed.core.project.sheet import ColourKey, EvenCells, Kind, Layout  # noqa: E402
from rushweed.core.values import Size  # noqa: E402
from tools.corpus.sheets import corpus  # noqa: E402
from tools.reading_code import reading_code  # noqa: E402

FRESH_SEED, FRESH_EACH = 60_000, 15
SEED = 20_000
"""Generated sheets of other seeds are kept for measuring."""
SIDES = {
    "num_leaves": 15, "learning_rate": 0.08, "min_data_in_leaf": 20, "feature_fraction": 0.5,
    "lambda_l2": 5, "lambdarank_truncation_level": 10,
}  # fmt: skip
READINGS = {
    "num_leaves": 12, "learning_rate": 0.06, "min_data_in_leaf": 15, "feature_fraction": 0.3,
    "lambda_l2": 10, "lambdarank_truncation_level": 5,
}  # fmt: skip
ALWAYS = {
    "objective": "lambdarank", "bagging_fraction": 0.8, "bagging_freq": 1, "verbose": -1,
    "label_gain": [0, 1], "deterministic": True, "num_threads": 2,
}  # fmt: skip
SIDE_ROUNDS, READING_ROUNDS, SEEDS = 120, 220, 2
GENERATED_WEIGHT = 0.25
KEY_OFF = 8
"""By so much a channel of a key may differ from the true one, of 255."""
Grid = dict[str, int]
Answers = dict[str, dict[str, Any]]
KINDS: dict[Kind, set[str]] = {
    "tileset": {"tileset", "autotile", "isometric"},
    "sheet": {"character", "explosion", "effect", "animated", "directions"},
    "picture": {"picture", "mockup"},
}
"""What kind of picture the tags of real sheets say, where they do."""


@dataclass
class Case:
    """A picture with its truth: grids (several where more than one is sensible), one picture, or
    things that lie freely."""

    name: str
    game: str
    fold: int
    kind: str
    grids: list[Grid]
    ways: tuple[Divisions, Divisions]
    seen: Scene
    pixel: int
    key: ColourKey | None = None
    true_key: tuple[int, ...] | None = None
    key_is_known: bool = False
    islands: int | None = None
    tags: tuple[str, ...] = ()
    mask: Mask | None = None
    pairs: list[readings.Pair] = field(default_factory=list)


def prepared(picture: Picture, name: str) -> dict[str, Any]:
    """A stored picture as the program looks at it."""
    pixel = true_pixel(picture)
    drawn = shrunk(picture, pixel)
    key = guess_key(drawn)
    shown = apply_key(drawn, key)
    mask = solid(shown)
    profiles = measure(shown, mask)
    named = {(size.width, size.height) for size in sizes_in(name)}
    named |= {(width // pixel, height // pixel) for width, height in named}
    seen = scene(
        shown, mask, profiles, regions_of(mask), name, frozenset(named), key is not None, pixel > 1
    )
    ways = (divisions(profiles[0]), divisions(profiles[1]))
    return {"ways": ways, "seen": seen, "pixel": pixel, "key": key, "mask": mask}


def has_right_key(case: Case) -> bool:
    """Whether the colour that stands for nothing is the one that was guessed, or neither is."""
    if case.key is None or case.true_key is None:
        return case.key is None and case.true_key is None
    pairs = zip(case.key.colour[:3], case.true_key, strict=True)
    return all(abs(ours - theirs) <= KEY_OFF for ours, theirs in pairs)


def real_cases(pictures: Path, truth: Path) -> Iterator[Case]:
    for name, entry in json.loads(truth.read_text())["images"].items():
        grids = []
        if "grid" in entry:
            for other in (entry["grid"], *entry.get("also", [])):
                once = {
                    "columns": 1 if other["tile_w"] * 2 > entry["width"] else 2,
                    "rows": 1 if other["tile_h"] * 2 > entry["height"] else 2,
                }
                grids.append({**entry["grid"], **once, **other})
        kind = "grid" if grids else "one" if entry.get("single") else "loose"
        made = prepared(read_picture(pictures / name), Path(name).stem)
        yield Case(
            name, entry["game"], entry["fold"], kind, grids, **made,
            true_key=tuple(entry["colour_key"]) if entry.get("colour_key") else None,
            key_is_known=bool(entry.get("colour_key_sure")),
            islands=entry.get("islands"), tags=tuple(entry["tags"]),
        )  # fmt: skip


def generated_cases(each: int, seed: int = SEED) -> Iterator[Case]:
    for sample in corpus(each, seed):
        height, width = sample.picture.shape[:2]
        kind = {(0, 0): "one", (-1, -1): "loose"}.get(sample.cell, "grid")
        grid = {
            "tile_w": sample.cell[0], "tile_h": sample.cell[1],
            "margin_x": sample.margin[0], "margin_y": sample.margin[1],
            "spacing_x": sample.gap[0], "spacing_y": sample.gap[1],
            "columns": 1 if width < 2 * sample.cell[0] else 2,
            "rows": 1 if height < 2 * sample.cell[1] else 2,
        }  # fmt: skip
        made = prepared(sample.picture, "")
        yield Case(sample.kind, "", -1, kind, [grid] if kind == "grid" else [], **made)


def is_side(ways: Divisions, place: int | slice, axis: str, grid: Grid, pixel: int) -> Any:
    """Whether a division of a side is that of a grid."""
    once = grid["columns" if axis == "x" else "rows"] == 1
    cell = grid["tile_w" if axis == "x" else "tile_h"] / pixel
    gap = grid[f"spacing_{axis}"] / pixel
    alike = (ways.cell[place] == cell) & (ways.margin[place] == grid[f"margin_{axis}"] / pixel)
    return alike & ((ways.gap[place] == gap) | once)


def is_right(case: Case, pair: readings.Pair) -> bool:
    if pair in (ONE_PICTURE, LOOSE):
        return case.kind == ("one" if pair == ONE_PICTURE else "loose")
    return case.kind == "grid" and any(
        is_side(case.ways[0], pair[0], "x", grid, case.pixel)
        and is_side(case.ways[1], pair[1], "y", grid, case.pixel)
        for grid in case.grids
    )


def learn(cases: Sequence[Case]) -> Weights:
    """Learn from cases, first sides, then readings."""
    games = Counter(case.game for case in cases)

    def weight(case: Case) -> float:
        return games[case.game] ** -0.5 if case.game else GENERATED_WEIGHT

    rows: list[Any] = []
    for case in cases:
        for side, axis in enumerate("xy") if case.kind == "grid" else ():
            ways = case.ways[side]
            right = np.any(
                [is_side(ways, slice(None), axis, grid, case.pixel) for grid in case.grids], axis=0
            )
            if right.any():
                rows.append((readings.side_evidence(ways, case.seen, side), right, weight(case)))
    sides = _boosted(rows, SIDES, SIDE_ROUNDS, seeds=1)
    weights = Weights(sides, sides, (), (), {})
    rows = []
    for case in cases:
        case.pairs = readings.likely_pairs(case.seen, *case.ways, weights)
        right = np.array([is_right(case, pair) for pair in case.pairs])
        if right.any():
            rows.append((evidence(case.seen, *case.ways, case.pairs), right, weight(case)))
    return Weights(sides, _boosted(rows, READINGS, READING_ROUNDS, SEEDS), (), (), {})


def _boosted(rows: list[Any], settings: dict[str, Any], rounds: int, seeds: int) -> Trees:
    measures = np.concatenate([row[0] for row in rows])
    right = np.concatenate([row[1] for row in rows]).astype(int)
    weight = np.concatenate([np.full(len(row[1]), row[2]) for row in rows])
    groups = [len(row[1]) for row in rows]
    dumps = []
    for seed in range(seeds):
        data = lightgbm.Dataset(measures, right, weight=weight, group=groups)
        model = lightgbm.train({**ALWAYS, **settings, "seed": seed}, data, rounds)
        dumps += [tree["tree_structure"] for tree in model.dump_model()["tree_info"]]
    return _flattened(dumps, 1 / seeds)


def _flattened(dumps: list[dict[str, Any]], scale: float) -> Trees:
    """Trees as arrays, all of the size of the largest."""
    made, depth = [], 0
    for dump in dumps:
        nodes: list[list[float]] = []

        def walk(node: dict[str, Any], level: int, nodes: list[list[float]] = nodes) -> int:
            nonlocal depth
            depth = max(depth, level)
            place = len(nodes)
            if "leaf_value" in node:
                nodes.append([-1, 0, 0, 0, node["leaf_value"] * scale])
                return place
            nodes.append([node["split_feature"], node["threshold"], 0, 0, 0])
            nodes[place][2] = walk(node["left_child"], level + 1)
            nodes[place][3] = walk(node["right_child"], level + 1)
            return place

        walk(dump, 0)
        made.append(nodes)
    most = max(map(len, made))
    arrays = np.zeros((len(made), most, 5))
    arrays[:, :, 0] = -1
    for tree, nodes in zip(arrays, made, strict=True):
        tree[: len(nodes)] = nodes
    measure_at, threshold, left, right, worth = np.moveaxis(arrays, 2, 0)
    whole = np.int16
    return Trees(
        measure_at.astype(whole), threshold, left.astype(whole), right.astype(whole),
        worth.astype(np.float32), depth,
    )  # fmt: skip


def answer(case: Case, weights: Weights) -> dict[str, Any]:
    """What the program would say of a case, and whether that is right."""
    pairs = readings.likely_pairs(case.seen, *case.ways, weights)
    rows = evidence(case.seen, *case.ways, pairs)
    scores = weights.readings.scores(rows)
    order = np.argsort(-scores, kind="stable")
    shares = np.exp(LIKELY * (scores - scores.max()))
    shares /= shares.sum()
    laid = [
        Reading(*readings.laid_out(*case.ways, pairs[place]), float(shares[place]), "")
        for place in order
    ]
    ranked = Ranked(tuple(laid), 0)
    right = {
        one.layout: is_right(case, pairs[place]) for one, place in zip(laid, order, strict=True)
    }
    return {
        "ranked": Ranked(ranked.readings[:MOST_READINGS], 0), "right_ones": right,
        "held": any(right.values()), "islands": _islands(case, ranked),
        "sure_of": readings.sure_of(scores[order], rows[order[0]]), **judged(case, ranked, right),
    }  # fmt: skip


def judged(case: Case, ranked: Ranked, right: dict[Layout, bool]) -> dict[str, Any]:
    """What of an answer is right, by its readings in their order."""
    first = ranked.readings[0].layout
    grids = [right[one.layout] for one in ranked.readings if isinstance(one.layout, EvenCells)]
    kind = next((kind for kind, tags in KINDS.items() if tags & set(case.tags)), None)
    told = kind == kind_of(first, case.mask) if kind and case.mask is not None else None
    return {
        "right": right[first], "first": any(grids[:1]), "three": any(grids[:3]),
        "kind": told if right[first] else None,
    }  # fmt: skip


def in_company(cases: Sequence[Case], answers: Answers, told: dict[str, float]) -> Answers:
    """The answers with the other sheets of the same game heard, as a project hears them; those of
    sheets that are alone in theirs as they are."""
    games: dict[str, dict[str, tuple[Size, Votes]]] = defaultdict(dict)
    sizes = {case.name: Size(*(profile.length for profile in case.seen.profiles)) for case in cases}
    for case in cases:
        ranked = replace(answers[case.name]["ranked"], sure=told[case.name])
        games[case.game][case.name] = sizes[case.name], votes_of(ranked)
    packs = {game: Pack.of(own) for game, own in games.items()}
    together: Answers = {}
    for case in cases:
        one, pack = answers[case.name], packs[case.game]
        if pack.is_company(case.name):
            ranked, measures = pack.weighed(case.name, sizes[case.name], one["ranked"])
            one = {**one, "sure_of": measures, **judged(case, ranked, one["right_ones"])}
        together[case.name] = {**one, "company": pack.is_company(case.name)}
    return together


def _islands(case: Case, ranked: Ranked) -> bool | None:
    if case.islands is None:
        return None
    assert case.mask is not None
    apart = told_apart(ranked, case.mask, regions_of(case.mask))
    return len(loose_pieces(case.mask, apart)) == case.islands


WRONG_WEIGHT = 2.0
"""A wrong answer that was sure costs more than a question that was needless."""


def fit_sureness(
    real: Sequence[dict[str, Any]], made: Sequence[dict[str, Any]], rounds: int = 3000
) -> tuple[float, ...]:
    """A logistic function that tells how probable it is that an answer is right, from answers to
    real and to generated pictures that nothing was learned from."""
    answers = [*real, *made]
    x = np.array([one["sure_of"] for one in answers])
    y = np.array([one["right"] for one in answers], float)
    weight = np.where(y > 0, 1.0, WRONG_WEIGHT)
    weight[len(real) :] *= GENERATED_WEIGHT
    spread = np.maximum(np.abs(x).mean(axis=0), 1e-6)
    scaled, fitted = x / spread, np.zeros(x.shape[1])
    for _ in range(rounds):
        told = 1 / (1 + np.exp(-(scaled @ fitted)))
        fitted -= 0.3 * (scaled.T @ (weight * (told - y)) / weight.sum() + 0.003 * fitted)
    return tuple((fitted / spread).tolist())


def figures(cases: Sequence[Case], answers: Sequence[dict[str, Any]], told: Sequence[float]) -> Any:
    """How often what is right, all in all, by fold and by tag."""
    rows: dict[str, dict[str, list[bool]]] = defaultdict(lambda: defaultdict(list))
    for case, one, value in zip(cases, answers, told, strict=True):
        for name in ("all", f"fold {case.fold}", *case.tags):
            row = rows[name]
            if case.kind in ("grid", "one"):
                row["taken"].append(one["right"])
                row["held"].append(one["held"])
                row["sure and wrong"].append(value >= 0.9 and not one["right"])
                if value >= 0.9:
                    row["right of sure"].append(one["right"])
            if case.kind == "grid":
                row["first"].append(one["first"])
                row["first three"].append(one["three"])
            if case.kind == "one":
                row["one picture"].append(one["right"])
            if one["kind"] is not None:
                row["kind"].append(one["kind"])
            if one["islands"] is not None:
                row["loose"].append(one["islands"])
            if case.key_is_known:
                row["keys" if case.true_key else "no key"].append(has_right_key(case))
    return {
        name: {what: [sum(map(bool, found)), len(found)] for what, found in row.items()}
        for name, row in rows.items()
    }


def curve(answers: Sequence[dict[str, Any]], told: Sequence[float]) -> list[list[float]]:
    """Of answers that are about so sure: how many, how sure on average, and the share right."""
    bins = []
    for low in np.arange(0, 1, 0.1):
        inside = [
            (value, one["right"])
            for one, value in zip(answers, told, strict=True)
            if low <= value < low + 0.1 or (low > 0.85 and value == 1)
        ]
        if inside:
            values, right = zip(*inside, strict=True)
            bins.append([len(inside), float(np.mean(values)), float(np.mean(right))])
    return bins


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--real", nargs=2, type=Path, action="append", required=True)
    parser.add_argument("--each", type=int, default=36, help="generated sheets of each kind")
    chosen = parser.parse_args()
    real = [case for pictures, truth in chosen.real for case in real_cases(pictures, truth)]
    made = list(generated_cases(chosen.each))
    folds = sorted({case.fold for case in real})
    answers: Answers = {}
    for fold in folds:
        weights = learn([*(case for case in real if case.fold != fold), *made])
        answers |= {case.name: answer(case, weights) for case in real if case.fold == fold}
        print(f"fold {fold} done", flush=True)
    weights = learn([*real, *made])
    fresh = [answer(case, weights) for case in generated_cases(FRESH_EACH, FRESH_SEED)]
    told = told_by_others(real, answers, fresh)
    together = in_company(real, answers, told)
    company = [case for case in real if together[case.name]["company"]]
    told_together = told | told_by_others(company, together, [])
    alone = [answers[case.name] for case in real], [told[case.name] for case in real]
    beside = [together[case.name] for case in real], [told_together[case.name] for case in real]
    learned = {
        "when": datetime.date.today().isoformat(), "code": reading_code(),
        "real": len(real), "games": len({case.game for case in real}), "generated": len(made),
        "figures": figures(real, *alone), "curve": curve(*beside),
        "together": figures(real, *beside), "company": len(company),
    }  # fmt: skip
    sure_alone = fit_sureness(alone[0], fresh)
    sure_together = fit_sureness([together[case.name] for case in company], [])
    write(replace(weights, sure=sure_alone, sure_in_company=sure_together, learned=learned))
    for name in ("figures", "together"):
        print(name, json.dumps(learned[name]["all"], indent=1))


def told_by_others(
    cases: Sequence[Case], answers: Answers, made: Sequence[dict[str, Any]]
) -> dict[str, float]:
    """How sure each answer is, as told by what answers of other folds were like."""
    told: dict[str, float] = {}
    for fold in {case.fold for case in cases}:
        fitted = fit_sureness([answers[c.name] for c in cases if c.fold != fold], made)
        told |= {
            c.name: logistic(answers[c.name]["sure_of"], fitted) for c in cases if c.fold == fold
        }
    return told


def write(weights: Weights) -> None:
    """Write the weights as one small file."""
    parts = {
        f"{name}_{part}": getattr(trees, part)
        for name, trees in (("sides", weights.sides), ("readings", weights.readings))
        for part in ("measure", "threshold", "left", "right", "worth", "depth")
    }
    parts |= {name: np.array(getattr(weights, name)) for name in ("sure", "sure_in_company")}
    np.savez_compressed(WEIGHTS, learned=json.dumps(weights.learned), **parts)


if __name__ == "__main__":
    main()
