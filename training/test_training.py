"""Tests of what the networks are taught with: python3 -m unittest discover training. They need no pictures."""

import struct
import unittest
import zlib

import cv2
import numpy as np
import torch
from onnx import numpy_helper
from torch.nn import functional as F

import averaged
import blemishes
import clips as moving_clips
import crowd
import faceMarks
import faces
import degrade
import figures
import halftones
from blemishes import BENT, folds
from blemishSamples import StainSamples, finding_planes, panes, widened
from colourSamples import BINS, SPACING, ColourLibrary, filmed, shares
from colourTask import Colour
from conditionSamples import chroma_grain
from faceSamples import EYES, MOUTH, features
from faceSeeing import HALVED_FROM, FaceSeeing, unlike
from findingTasks import Dirt, Silvering
from lookalikes import fonts, lettering, parting, shirt_front, spectacles, worn
from referenceSamples import displaced, in_light, within_face
from layers import clip
from resources import files_in
from packing import LARGE, rounded, whole_steps
from quantise import Graph, Rounded, equalise
from silveringSamples import SilveringSamples, mirrored
from named import NAMES, name_of
from networks import Reader, Trunk, enlarged, fold, reading_planes, unfold
from samples import Library, mask_of, reduced
from tasks import BLUR_UNIT, SECOND, Clean, Enlarge, Temporal, combs, distance, fold_across, unfold_across, weave
from seeing import HANDED_ON, Informed, Seeing, padded
from train import Echoed, Smoothed, groups_of, grown, rate_at


class Counter:
    """Samples that are their own number."""

    made = 0

    def one(self):
        self.made += 1
        return self.made


def grey(level, side=96):
    return np.full((side, side, 3), (level, 128, 128), np.float32)


class Seen(unittest.TestCase):
    def test_answers_at_a_quarter_of_the_size_whatever_that_is(self):
        network = Informed(149, [8, 12, 16, 20]).eval()
        with torch.no_grad():
            for h, w in ((32, 32), (96, 64)):
                self.assertEqual(tuple(network(torch.rand(1, 16, h // 4, w // 4)).shape), (1, 149, h // 4, w // 4))
                seen = Seeing().eval()(torch.rand(1, 1, h, w))
                self.assertEqual([tuple(s.shape[1:]) for s in seen], [(c, h >> n, w >> n) for n, c in enumerate(HANDED_ON.values(), 1)])

    def test_borders_are_those_of_the_frame_that_was_taught(self):
        self.assertEqual(tuple(padded(torch.zeros(1, 1, 8, 8), 3, 2).shape), (1, 1, 9, 9))
        self.assertEqual(tuple(padded(torch.zeros(1, 1, 8, 8), 5, 2).shape), (1, 1, 11, 11))
        self.assertEqual(tuple(padded(torch.zeros(1, 1, 8, 8), 5, 1).shape), (1, 1, 12, 12))
        # One fewer above and at the left.
        self.assertEqual(float(padded(torch.ones(1, 1, 2, 2), 3, 2)[0, 0, 0, 0]), 1)

    def test_parts_that_are_slow_learn_at_their_share_of_the_rate(self):
        network = Informed(4, [8, 8, 8, 8])
        slow, fast = groups_of(network, {"seeing": 0.2})
        self.assertEqual((slow["pace"], fast["pace"]), (0.2, 1))
        self.assertEqual(len(slow["params"]), len(list(network.seeing.parameters())))
        self.assertEqual(len(slow["params"]) + len(fast["params"]), len(list(network.parameters())))

    def test_packed_weights_are_off_by_half_a_step_at_most_and_small_layers_stay(self):
        weight = np.random.default_rng(3).normal(size=(24, 16, 4, 4)).astype(np.float32)
        whole, step = whole_steps(weight)
        self.assertLessEqual(np.abs(whole * step.reshape(-1, 1, 1, 1) - weight).max(), step.max() / 2 + 1e-6)
        layers = torch.nn.Sequential(torch.nn.Conv2d(80, 80, 1), torch.nn.Conv2d(2, 2, 1))
        before = [layer.weight.detach().clone() for layer in layers]
        self.assertGreater(before[0].numel(), LARGE)
        rounded(layers)
        self.assertFalse(torch.equal(layers[0].weight, before[0]))
        self.assertTrue(torch.equal(layers[1].weight, before[1]))


class Prints(unittest.TestCase):
    PICTURE = cv2.GaussianBlur(np.random.default_rng(2).uniform(40, 210, (96, 120, 3)).astype(np.float32), (0, 0), 3)

    def test_damage_is_where_its_truth_says(self):
        for kind in blemishes.KINDS:
            drawn = 0
            for seed in range(8):
                damaged, labels, sure = blemishes.blemished(self.PICTURE, np.random.default_rng(seed), [kind], 1.5)
                changed = np.abs(damaged - self.PICTURE).max(2)
                self.assertTrue((changed[labels.max(2) > 0] >= blemishes.CHANGED[kind]).all(), kind)
                self.assertLess(changed[(labels.max(2) == 0) & (sure > 0)].max(initial=0), 60, kind)
                self.assertEqual(labels.sum(), labels[:, :, blemishes.KINDS.index(kind)].sum())
                drawn += labels.max()
            self.assertGreater(drawn, 3, kind)

    def test_stains_alone_count_where_stains_are_learned_and_panes_are_none(self):
        samples = StainSamples.__new__(StainSamples)
        samples.random = np.random.default_rng(4)
        stained = 0
        for _ in range(24):
            damaged, whole, labels, sure = samples.harmed(self.PICTURE, 0.8)
            self.assertEqual(whole.shape, damaged.shape)
            self.assertEqual((damaged.shape, labels.shape, sure.shape), (self.PICTURE.shape, (96, 120, 1), (96, 120)))
            self.assertTrue((sure[labels[:, :, 0] > 0] == 1).all())
            stained += labels.max()
        self.assertGreater(stained, 6)
        self.assertLess(stained, 24)
        paned = panes(self.PICTURE, np.random.default_rng(1))
        self.assertGreater(np.abs(paned - self.PICTURE).max(), 5)

    def test_spectacles_change_what_they_cover_and_nothing_else(self):
        for seed in range(6):
            rims, cover = spectacles(self.PICTURE, np.random.default_rng(seed))
            self.assertEqual((rims.shape, cover.shape), (self.PICTURE.shape, (96, 120)))
            self.assertTrue((rims[cover == 0] == self.PICTURE[cover == 0]).all())
            self.assertTrue(0 < (cover > 0.5).mean() < 0.2)

    def test_what_is_worn_changes_what_it_covers_and_nothing_else(self):
        for seed in range(8):
            picture, cover = worn(self.PICTURE, np.random.default_rng(seed))
            self.assertEqual(float(np.abs(picture - self.PICTURE)[cover == 0].max(initial=0)), 0)
            self.assertGreater(float(cover.max()), 0.9)

    def test_knots_and_partings_lie_where_they_are_said_to(self):
        grey = np.full((96, 120, 3), 128, np.float32)
        for draw in (shirt_front, parting):
            drawn = [draw(grey, np.random.default_rng(seed)) for seed in range(8)]
            for picture, cover in drawn:
                self.assertEqual((picture.shape, cover.shape), (grey.shape, (96, 120)))
                self.assertTrue(0 <= cover.min() and cover.max() <= 1)
                self.assertGreater(float(np.abs(picture - grey)[cover > 0.2].mean()), 1)
            self.assertGreater(np.median([cover.max() for _, cover in drawn]), 0.5)
            self.assertLess(np.mean([(cover > 0.5).mean() for _, cover in drawn]), 0.2)

    def test_a_fold_that_lies_flat_is_its_line_alone(self):
        shares = lambda bending: np.mean([(np.abs(folds(np.full((96, 120, 3), 128, np.float32), np.random.default_rng(seed), 1, bending)[0] - 128).max(2) > 8).mean()
                                          for seed in range(12)])
        self.assertLess(shares(0), 0.7 * shares(BENT))

    def test_masks_are_wider_than_the_damage_and_sometimes_mistaken(self):
        damage = np.zeros((96, 120), np.float32)
        damage[40:43, 20:100] = 1
        masks = [widened(damage, np.random.default_rng(seed)) for seed in range(40)]
        self.assertTrue(all((mask[damage > 0] == 1).all() and set(np.unique(mask)) <= {0, 1} for mask in masks))
        beyond = cv2.dilate(damage, np.ones((25, 25), np.uint8)) == 0
        mistaken = [mask[beyond].any() for mask in masks]
        self.assertTrue(0 < sum(mistaken) < 24)
        self.assertGreater(max(mask.sum() for mask in masks), 3 * damage.sum())

    @unittest.skipUnless(fonts(), "no fonts are installed to letter with")
    def test_lettering_covers_a_part_of_the_picture(self):
        covers = [lettering(self.PICTURE, np.random.default_rng(seed), fonts())[1] for seed in range(12)]
        self.assertTrue(all(0 <= cover.min() and cover.max() <= 1 for cover in covers))
        self.assertTrue(0.005 < np.mean([cover.mean() for cover in covers]) < 0.4)

    def test_silver_comes_from_the_edges_over_what_is_dark(self):
        dark, light = np.full((96, 120, 3), 30, np.float32), np.full((96, 120, 3), 255, np.float32)
        veils = [mirrored(dark, np.random.default_rng(seed)) - 30 for seed in range(20)]
        self.assertTrue(all(veil.min() >= -1e-3 and veil.max() > 4 for veil in veils))
        middle = np.mean([veil[40:56, 50:70].mean() for veil in veils])
        border = np.mean([np.mean([veil[:4].mean(), veil[-4:].mean(), veil[:, :4].mean(), veil[:, -4:].mean()]) for veil in veils])
        self.assertGreater(border, 2 * middle)
        self.assertLess(np.mean([np.abs(mirrored(light, np.random.default_rng(seed)) - 255).mean() for seed in range(20)]), np.mean([veil.mean() for veil in veils]))

    def test_veils_are_told_by_what_they_add(self):
        samples = SilveringSamples.__new__(SilveringSamples)
        samples.random = np.random.default_rng(3)
        veiled = [samples.harmed(self.PICTURE, 0.5) for _ in range(20)]
        for damaged, whole, labels, sure in veiled:
            changed = np.abs(damaged - whole).max(2)
            self.assertTrue((changed[labels[:, :, 0] > 0] >= 8).all())
            self.assertLess(changed[(labels[:, :, 0] == 0) & (sure > 0)].max(initial=0), 2)
        self.assertTrue(0 < sum(labels.max() for _, _, labels, _ in veiled) < 20)
        # What is found exactly adds exactly what was added.
        task = Silvering({})
        whole = torch.rand(1, 3, 8, 8) * 0.6
        result = torch.cat([torch.full((1, 1, 8, 8), 5.0), torch.full((1, 1, 8, 8), 0.4), torch.tensor([0.6, 0.52, 0.49])[None, :, None, None].expand(1, 3, 8, 8)], 1)
        cover = 0.4 * (Silvering.LIGHT - whole[:, :1])
        damaged = whole + cover * (result[:, 2:] - whole)
        self.assertLess(float((task.veil(result, whole) - (damaged - whole)).abs().max()), 1e-6)

    def test_small_patches_show_more_of_a_picture(self):
        # A picture whose tone tells how far down a place in it lies.
        library = Library.__new__(Library)
        library.pick = lambda random: np.repeat(np.linspace(0, 250, 800)[:, None, None], 900, 1).repeat(3, 2).astype(np.uint8)
        shown = lambda small: np.mean([np.ptp(part.mean(2)) for part in (library.patch(80, np.random.default_rng(seed), small) for seed in range(40))])
        self.assertEqual(library.patch(80, np.random.default_rng(3), 1.0).shape, (80, 80, 3))
        self.assertGreater(shown(1.0), 2 * shown(0.0))

    def test_what_is_seen_is_folded_openings_and_closings(self):
        flat = np.full((32, 48, 3), 0.5, np.float32)
        flat[10, 20, 0] = 0.75
        planes = finding_planes(flat)
        self.assertEqual(planes.shape, (28, 16, 24))
        self.assertAlmostEqual(float(planes[4, 5, 10]), 2.0, 5)
        self.assertEqual(float(planes[8, 5, 10]), 0)

    def test_a_screen_has_the_mean_of_its_picture(self):
        grey = np.full((90, 90, 3), 140, np.float32)
        for inks in (1, 4):
            page, screens = halftones.screened(grey, 5.0, np.random.default_rng(3), inks, 12.0)
            self.assertAlmostEqual(float(page[10:-10, 10:-10].mean()), 140, delta=12)
            self.assertGreater(float(page.std()), 30)
            self.assertEqual([screen.angle for screen in screens], [57.0, 27.0, 87.0, 12.0][:inks])

    def test_a_threshold_tells_where_the_ink_lies(self):
        screen = halftones.Screen(8.0, 30.0, np.random.default_rng(5))
        screen.oblong = 0.0
        threshold = screen.threshold((64, 64))
        self.assertAlmostEqual(float(threshold.mean()), 0.5, delta=0.02)
        for cover in (0.2, 0.5, 0.9):
            ink = screen.printed(np.full((64, 64), cover, np.float32))
            self.assertAlmostEqual(float(ink.mean()), cover, delta=0.02)
            self.assertGreater(float(ink[threshold < cover - 0.2].min(initial=1)), 0.9)
            self.assertLess(float(ink[threshold > cover + 0.2].max(initial=0)), 0.1)


class FaceMarks(unittest.TestCase):
    def test_marks_are_drawn_on_a_part_of_a_face_and_stay_within_its_range(self):
        face = np.full((96, 96, 3), 140, np.float32)
        changed = []
        for seed in range(20):
            drawn = faceMarks.with_marks(face, np.random.default_rng(seed))
            self.assertTrue(drawn.min() >= 0 and drawn.max() <= 255)
            changed.append(float((drawn != face).any(2).mean()))
        self.assertTrue(max(changed) < 0.35)
        self.assertTrue(sum(share > 0 for share in changed) >= 14)


class People(unittest.TestCase):
    FACE = {"path": "a/img/one-square.jpg", "frame": {"a": 30.0, "b": 40.0, "x": 7.0, "y": -2.0}, "mesh": np.random.default_rng(4).uniform(0, 60, (468, 2))}

    def test_points_of_the_frame_lie_where_the_picture_has_them(self):
        back = faces.pictured(self.FACE, faces.framed(self.FACE))
        np.testing.assert_allclose(back, self.FACE["mesh"], atol=1e-9)
        self.assertEqual(faces.scale_of(self.FACE), 50)

    def test_a_person_is_on_one_side_alone_and_some_are_held_out(self):
        people = [{"path": f"p/{folder}/{n}{variant}.jpg"} for folder in ("img", "female") for n in range(20) for variant in ("", "-square")]
        names = {part: {faces.person(face["path"]) for face in faces.of_part(people, part)} for part in ("train", "held")}
        self.assertEqual(names["train"] & names["held"], set())
        self.assertEqual(len(names["held"]), 6)
        self.assertEqual(len(names["train"]), 34)

    def test_eyes_and_mouth_count_more(self):
        marked = features(96)
        for x, y in (*EYES, MOUTH):
            self.assertEqual(marked[int(96 * y), int(96 * x)], 1)
        self.assertEqual(marked[5, 5], 0)
        self.assertLess(marked.mean(), 0.25)


    def test_another_picture_comes_into_the_light_of_a_face(self):
        face = cv2.GaussianBlur(np.random.default_rng(5).uniform(0, 1, (96, 96)).astype(np.float32), (0, 0), 2)
        across = np.linspace(0, 0.2, 96, dtype=np.float32)[None]
        lit = in_light(0.2 + 0.6 * face + across, face, 96)
        self.assertLess(np.abs(lit - face)[16:-16, 16:-16].mean(), 0.2 * np.abs(0.2 + 0.6 * face + across - face)[16:-16, 16:-16].mean())

    def test_places_are_moved(self):
        picture = np.arange(40 * 40, dtype=np.float32).reshape(40, 40)
        by = np.stack([np.full((40, 40), 3, np.float32), np.full((40, 40), -2, np.float32)])
        np.testing.assert_allclose(displaced(picture, by)[10:30, 10:30], picture[8:28, 13:33], atol=0.01)

    def test_only_the_face_is_another_picture(self):
        planes = np.zeros((96, 96, 6), np.float32)
        planes[:, :, 0], planes[:, :, 1] = np.meshgrid(np.linspace(-1, 1, 96), np.linspace(-1, 1, 96))
        over = within_face(planes)
        self.assertEqual(over[48, 48], 1)
        self.assertEqual(over[3, 3], 0)


class Motion(unittest.TestCase):
    def test_layers_move_and_repeat_with_their_seed(self):
        picture = np.random.default_rng(1).uniform(0, 255, (120, 160, 3)).astype(np.float32)
        make = lambda seed: clip(lambda: picture, np.random.default_rng(seed), 4, (64, 48))
        clips = [make(seed) for seed in range(8)]
        for frames in clips:
            self.assertEqual(frames.shape, (4, 48, 64, 3))
        self.assertTrue(any(np.abs(frames[0] - frames[3]).mean() > 1 for frames in clips))
        np.testing.assert_array_equal(clips[5], make(5))


    def test_figures_are_drawn_over_frames_and_move(self):
        frames = np.full((4, 96, 128, 3), 120, np.float32)
        for kind in dict.fromkeys(figures.KINDS):
            moved = 0
            for seed in range(6):
                draw = kind(np.random.default_rng(seed), (128, 96))
                first, last = (draw(frames[0].copy(), t) for t in (0, 6))
                self.assertEqual(first.shape, (96, 128, 3))
                moved += np.abs(first - last).mean() > 0.05
            self.assertGreater(moved, 2, kind.__name__)


class TemporalDamage(unittest.TestCase):
    FRAMES = np.random.default_rng(3).uniform(40, 200, (7, 192, 256, 3)).astype(np.float32)

    def test_the_lead_goes_to_the_encoder_and_is_left_out(self):
        damage = moving_clips.Damage(0.0, 0.0, 0.0, 0.0, ["-c:v", "mpeg2video", "-qscale:v", "2"], 4.4, 2)
        sent, truth, known = moving_clips.harmed(self.FRAMES, np.random.default_rng(1), damage)
        frame = 192 * 256 * 3 // 2
        self.assertEqual(len(sent), 5 * frame)
        middle = np.frombuffer(sent, np.uint8)[2 * frame:3 * frame].astype(int)
        self.assertLess(np.abs(middle - np.frombuffer(truth, np.uint8).astype(int)).mean(), 12)
        self.assertEqual(known, (0.0, 0.0, 4.4, 0.0, 0.0))

    def test_without_an_encoder_there_is_no_lead(self):
        random = np.random.default_rng(2)
        made = [moving_clips.damage_of(random) for _ in range(200)]
        self.assertTrue(all(damage.lead == 0 for damage in made if damage.encoder is None))
        self.assertTrue(any(damage.lead > 0 for damage in made))


class Combs(unittest.TestCase):
    def lines(self, rows):
        return torch.tensor(rows, dtype=torch.float32)[None, None, :, None].expand(1, 1, len(rows), 8) / 255

    def test_only_what_stands_out_of_its_column_beyond_the_truth_counts(self):
        own = self.lines([100, 100, 100, 100, 100])
        truth = self.lines([100, 100, 140, 100, 100])
        batch = (own, truth)
        self.assertEqual(float(combs(truth, batch)), 0)
        self.assertEqual(float(combs(own, batch)), 0)
        self.assertGreater(float(combs(self.lines([100, 60, 140, 60, 100]), batch)), 0.05)


class Reading(unittest.TestCase):
    def test_a_flat_plane_shows_its_level_and_no_differences(self):
        planes = reading_planes(torch.full((1, 1, 16, 24), 0.75))
        self.assertEqual(tuple(planes.shape), (1, 16, 8, 12))
        self.assertTrue(torch.all(planes[:, :4] == 0.5))
        self.assertTrue(torch.all(planes[:, 4:] == 0))

    def test_the_reader_answers_of_any_size(self):
        reader = Reader(3, (8, 12, 16))
        for shape in ((64, 64), (128, 192), (40, 34)):
            self.assertEqual(tuple(reader(reading_planes(torch.rand(2, 1, *shape))).shape), (2, 6, 1, 1))

    def test_chroma_grain_has_the_strength_it_is_named(self):
        out = chroma_grain(grey(120, 128), 7, 0.6, np.random.default_rng(1), True)
        self.assertAlmostEqual(float(out[:, :, 1].std()), 7, delta=0.4)
        self.assertEqual(float(out[:, :, 0].std()), 0)


class Damage(unittest.TestCase):
    def setUp(self):
        self.random = np.random.default_rng(3)

    def test_colours_come_back(self):
        rgb = self.random.uniform(0, 255, (8, 8, 3)).astype(np.float32)
        np.testing.assert_allclose(degrade.to_rgb(degrade.to_ycc(rgb)), rgb, atol=0.01)

    def test_grain_has_the_strength_it_is_named(self):
        for size in (0.0, 0.8):
            for screen in (False, True):
                out = degrade.add_grain(grey(120, 256), 10, 6, self.random, True, size, screen)
                self.assertAlmostEqual(float(out[:, :, 0].std()), 10, delta=0.5)
                self.assertAlmostEqual(float(out[:, :, 1].std()), 6, delta=0.5)

    def test_grain_of_a_size_reaches_its_neighbours(self):
        fine, coarse = (degrade.noise_field((256, 256), size, self.random) for size in (0.0, 1.0))
        beside = lambda f: float((f[:, 1:] * f[:, :-1]).mean())
        self.assertAlmostEqual(beside(fine), 0, delta=0.03)
        # Gaussian grains of radius 1 one pixel apart: exp(-1/4).
        self.assertAlmostEqual(beside(coarse), np.exp(-0.25), delta=0.05)

    def test_blur_has_the_deviation_it_is_named(self):
        point = np.zeros((65, 65, 3), np.float32)
        point[32, 32] = 1000
        for disc in (False, True):
            out = degrade.blurred(point, 2.0, disc)[:, :, 0]
            x = np.arange(65) - 32
            self.assertAlmostEqual(float(np.sqrt((out.sum(0) * x ** 2).sum() / out.sum())), 2.0, delta=0.1)

    def test_jpeg_step_is_that_of_the_standard_table(self):
        # Quality 50 is the table itself; its seven low entries.
        self.assertAlmostEqual(degrade.jpeg_step(50), np.mean([11, 12, 12, 10, 14, 14, 13]), places=5)
        self.assertGreater(degrade.jpeg_step(20), degrade.jpeg_step(50))

    def test_doubled_field_keeps_its_own_lines(self):
        picture = self.random.uniform(0, 255, (32, 16, 3)).astype(np.float32)
        out = degrade.doubled_field(picture, self.random)
        np.testing.assert_array_equal(out[0::2], picture[0::2])

    def test_half_chroma_repeats_its_samples(self):
        out = degrade.halve_chroma(self.random.uniform(0, 255, (8, 8, 3)).astype(np.float32))
        np.testing.assert_array_equal(out[0::2, :, 1:], out[1::2, :, 1:])
        np.testing.assert_array_equal(out[:, 0::2, 1:], out[:, 1::2, 1:])

    def test_a_reduction_says_the_blur_it_adds(self):
        at = np.arange(256) - 127.5
        hill = np.tile((255 * np.exp(-at ** 2 / (2 * 12 ** 2))).astype(np.float32), (256, 1))
        for seed in range(6):
            small, blur = reduced(hill, 4, np.random.default_rng(seed))
            x = np.arange(64) - 31.5
            spread = float((small[32] * x ** 2).sum() / small[32].sum())
            # Three small pixels wide; gathering light spreads it by a pixel's own width.
            self.assertAlmostEqual(spread, 3 ** 2 + 1 / 12 + blur ** 2, delta=0.04)

    def test_masks_stay_between_nothing_and_all(self):
        for _ in range(40):
            mask = mask_of(32, self.random)
            self.assertTrue(0 <= mask.min() and mask.max() <= 1)


class Shapes(unittest.TestCase):
    def test_foldings_are_undone(self):
        x = torch.rand(2, 3, 16, 24)
        self.assertTrue(torch.equal(unfold(fold(x)), x))
        self.assertTrue(torch.equal(unfold_across(fold_across(x)), x))

    def test_fields_are_folded_across(self):
        x = torch.arange(16.0).reshape(1, 1, 2, 8)
        self.assertEqual(fold_across(x)[0].tolist(), [[[0, 2, 4, 6], [8, 10, 12, 14]], [[1, 3, 5, 7], [9, 11, 13, 15]]])

    def test_cubic_enlargement_keeps_a_slope(self):
        slope = torch.arange(16.0).expand(1, 1, 16, 16)
        for factor in (2, 4):
            out = enlarged(slope, factor)[0, 0, 20, 3 * factor:-3 * factor]
            truth = (torch.arange(16.0 * factor) + 0.5) / factor - 0.5
            torch.testing.assert_close(out, truth[3 * factor:-3 * factor])

    def test_untrained_networks_correct_nothing(self):
        self.assertEqual(float(Trunk(5, 3, [8, 8, 8], [1, 1, 1])(torch.rand(1, 5, 16, 16)).abs().max()), 0)


class Training(unittest.TestCase):
    def test_strong_damage_counts_little_more_than_weak(self):
        truth = torch.zeros(1, 1, 8, 8)
        left = lambda made, start: float(distance(truth + made, truth, truth + start))
        self.assertLess(left(0.02, 0.08) / left(0.01, 0.04), 1.3)
        self.assertGreater(left(0.02, 0.08) / left(0.01, 0.04), 1)

    def test_a_weave_is_told_from_grain(self):
        truth = torch.zeros(1, 1, 32, 32)
        start = torch.full_like(truth, 0.1)
        checks = 0.01 * (1 - 2 * ((torch.arange(32)[:, None] + torch.arange(32)) % 2)).float()[None, None]
        grains = 0.01 * torch.sign(torch.randn(1, 1, 32, 32, generator=torch.Generator().manual_seed(1)))
        self.assertGreater(float(weave(checks, truth, start)), 2 * float(weave(grains, truth, start)))
        self.assertAlmostEqual(float(weave(truth + 0.05, truth, start)), 0, places=6)

    def test_the_second_enlargement_goes_on_from_the_first(self):
        task = Enlarge({"widths": [8, 8, 8], "blocks": [1, 1, 1], "patch": 16})
        network = task.network()
        torch.nn.init.normal_(network.tail.weight, std=0.01)
        sample = lambda side: (np.full((side, side), 0.5, np.float32), np.zeros((side, side, 3), np.float32), np.full((32, 32), 0.5, np.float32))
        rows = [sample(16), sample(8), sample(16)]
        samples = type("Samples", (), {"one": lambda _: rows.pop()})()
        once, twice = task.batch(samples, 3)
        self.assertEqual([len(once[0]), len(twice[0])], [2, 1])
        result = task.run(network, (once, twice))
        made = task.doubled(network, *twice[:2]).clamp(0, 1)
        told = torch.zeros(1, 3, 8, 8)
        told[:, 2] = SECOND / BLUR_UNIT
        torch.testing.assert_close(result[1][0], task.doubled(network, made, told))
        self.assertFalse(result[1][1].requires_grad)
        task.loss(result, (once, twice)).backward()
        self.assertEqual(set(task.score(result, (once, twice))), {"2x cubic", "2x", "4x cubic", "4x"})
        self.assertIsNone(task.batch(type("Samples", (), {"one": lambda _: sample(8)})(), 2)[0])

    def test_the_rate_warms_up_and_runs_down(self):
        config = {"rate": 1.0}
        self.assertLess(rate_at(config, 0, 0), 0.01)
        self.assertAlmostEqual(rate_at(config, 1000, 0), 1.0)
        self.assertAlmostEqual(rate_at(config, 1000, 1), 0.01)
        self.assertAlmostEqual(rate_at(config, 1000, 7), 0.01)

    def test_echoes_show_every_sample_about_twice(self):
        counter = Counter()
        echoed = Echoed(counter, 1, kept=50)
        shown = [echoed.one() for _ in range(4000)]
        self.assertAlmostEqual(counter.made, 2000, delta=150)
        self.assertLessEqual(max(np.unique(shown, return_counts=True)[1]), 2)

    def test_what_was_misjudged_is_shown_again(self):
        echoed = Echoed(Counter(), 1, kept=50)
        again = 0
        for n in range(1000):
            batch = [echoed.one() for _ in range(5)]
            again += 7 in batch
            echoed.judged([sample == 7 and n < 500 for sample in batch])
        self.assertGreater(again, 20)
        self.assertEqual(echoed.misjudged, [])

    def test_whole_pictures_taken_for_damaged_are_misjudged(self):
        labels = torch.zeros(3, len(blemishes.KINDS), 8, 8)
        labels[2, 0, 1, 1] = 1
        odds = torch.full((3, 1 + len(blemishes.KINDS), 8, 8), -5.0)
        odds[1:, 0, 4, 4] = 1
        self.assertEqual(Dirt({}).misjudged(odds, (None, labels, torch.ones(3, 1, 8, 8))), [False, True, False])

    def test_a_larger_network_begins_with_the_answers_of_the_smaller(self):
        small, large = Trunk(4, 2, [8, 8, 8], [1, 1, 1]), Trunk(6, 2, [12, 8, 16], [2, 1, 2])
        torch.nn.init.normal_(small.tail.weight)
        large.load_state_dict(grown(small.state_dict(), large))
        x = torch.rand(1, 6, 8, 8)
        torch.testing.assert_close(large(x), small(x[:, :4]))
        large(x).sum().backward()
        for name, weights in large.named_parameters():
            self.assertGreater(float(weights.grad.abs().sum()), 0, name)

    def test_a_network_of_fewer_blocks_begins_as_the_larger_one_without_them(self):
        large, small = Trunk(4, 2, [8, 8, 8], [2, 1, 2]), Trunk(4, 2, [8, 8, 8], [1, 1, 1])
        small.load_state_dict(grown(large.state_dict(), small))
        torch.testing.assert_close(small.one[0].conv.weight, large.one[0].conv.weight)

    def test_what_cannot_be_begun_from_is_left(self):
        narrow = Trunk(4, 2, [4, 8, 8], [1, 1, 1])
        self.assertIsNone(grown(Trunk(4, 2, [8, 8, 8], [1, 1, 1]).state_dict(), narrow))
        self.assertIsNone(grown({}, narrow))

    def test_temporal_begins_as_clean_on_the_middle_frame(self):
        config = {"widths": [8, 8, 8], "blocks": [1, 1, 1]}
        clean, temporal = Clean(config).network(), Temporal(config).network()
        torch.nn.init.normal_(clean.tail.weight)
        temporal.load_state_dict(Temporal(config).adopted(clean.state_dict()))
        lumas, chromas, steer = torch.rand(1, 5, 16, 16), torch.rand(1, 5, 2, 8, 8), torch.rand(1, 5)
        luma, chroma = Temporal(config).run(temporal, (lumas, chromas, steer, torch.rand(1, 1, 16, 16), torch.rand(1, 2, 8, 8)))
        whole = torch.cat([lumas[:, 2:3], chromas[:, 2].repeat_interleave(2, 2).repeat_interleave(2, 3)], 1)
        made = Clean(config).run(clean, (whole, steer[:, :, None, None].expand(1, 5, 8, 8), None))
        torch.testing.assert_close(luma, made[:, :1])
        torch.testing.assert_close(chroma, F.avg_pool2d(made[:, 1:], 2))

    def test_smoothed_weights_follow(self):
        network = Trunk(2, 1, [4, 4, 4], [1, 1, 1])
        smoothed = Smoothed(network)
        with torch.no_grad():
            network.tail.bias.fill_(1.0)
        for step in range(400):
            smoothed.update(network, 100000)
        self.assertTrue(0.2 < float(smoothed.state["tail.bias"][0]) < 0.5)


class Colours(unittest.TestCase):
    def test_shares_of_classes_mean_the_colour_itself_and_never_leave_them(self):
        random = np.random.default_rng(4)
        chroma = random.uniform(-60, 60, (9, 7, 2))
        chroma[0, 0] = (127, -128)
        at, weights = shares(chroma)
        self.assertTrue((at >= 0).all())
        np.testing.assert_allclose(weights.sum(2), 1, atol=1e-5)
        meant = (BINS[at] * SPACING * weights[..., None]).sum(2)
        within = np.hypot(chroma[..., 0], chroma[..., 1]) < SPACING * 5
        np.testing.assert_allclose(meant[within], chroma[within], atol=1e-3)

    def test_classes_are_those_of_the_program(self):
        self.assertEqual(len(BINS), 149)
        self.assertEqual(list(BINS[74]), [0, 0])

    def test_the_file_answers_with_likelihoods_place_by_place(self):
        odds = torch.randn(2, len(BINS), 5, 7)
        likely = Colour.finished(None, odds)
        self.assertEqual(likely.shape, (2, 5, 7, len(BINS)))
        self.assertEqual([likely.shape[axis] for axis in Colour.places], [5, 7])
        self.assertTrue(torch.allclose(likely.sum(3), torch.ones(2, 5, 7), atol=1e-5))
        self.assertTrue((likely.argmax(3) == odds.argmax(1)).all())

    def test_a_film_shows_lightness_alone(self):
        random = np.random.default_rng(5)
        rgb = random.uniform(0, 255, (32, 32, 3)).astype(np.float32)
        for _ in range(20):
            grey = filmed(rgb, random)
            self.assertEqual(grey.shape, (32, 32))
            self.assertTrue(0 <= grey.min() and grey.max() <= 255)

    def test_parts_keep_the_colours_of_their_pictures(self):
        library = ColourLibrary.__new__(ColourLibrary)
        red, green = (np.full(shape, colour, np.uint8) for shape, colour in (((90, 140, 3), (200, 40, 30)), ((300, 120, 3), (30, 160, 60))))
        library.kinds, library.named = [[red], [red], [red], []], [(green, 1)]
        random, both = np.random.default_rng(2), 0
        for _ in range(60):
            patch, names = library.patch(48, random)
            self.assertEqual(patch.shape, (48, 48, 3))
            # What has a name has it wherever it is, and nothing else has.
            np.testing.assert_array_equal(names, np.where(patch[:, :, 0] < 100, 1, -1))
            seen = {tuple(np.rint(colour)) for colour in patch.reshape(-1, 3)}
            self.assertLessEqual(seen, {(200, 40, 30), (30, 160, 60)})
            both += len(seen) == 2
        self.assertGreater(both, 0)


    def test_names_of_textures_say_what_they_are_of(self):
        said = lambda path: (lambda place: place if place is None else list(NAMES)[place])(name_of(path))
        for path, name in (("/a/brickWall3.jpg", "brick"), ("x.pk3:textures/exx/floor_grass02.tga", "foliage"), ("/a/gfx_WoodPlanks.png", "wood"),
                           ("/a/desert-sand.png", "earth"), ("/wood/panel.png", None), ("/a/bricks_norm.png", None), ("/a/seal.png", None)):
            self.assertEqual(said(path), name, path)

    def test_names_are_answered_while_it_learns_alone_and_teach(self):
        task = Colour({"widths": [8, 8, 8, 8], "patch": 32})
        network = task.network()
        luma = torch.rand(2, 1, 32, 32)
        names = torch.full((2, 8, 8), -1)
        at, weights = torch.full((2, 8, 8, 4), 74), torch.full((2, 8, 8, 4), 0.25)
        batch = [luma, at, weights, torch.zeros(2, 8, 8, 2), names]
        result = task.run(network, batch)
        self.assertEqual(result.shape[1], len(BINS) + len(NAMES))
        nameless = task.loss(result, batch)
        names[0] = 3
        self.assertGreater(float(task.loss(result, batch).detach()), float(nameless.detach()))
        self.assertEqual(task.run(network.eval(), batch).shape[1], len(BINS))


class FacesSeen(unittest.TestCase):
    def test_what_is_seen_of_a_picture_differs_the_more_the_softer_it_is_and_not_at_all_from_itself(self):
        seeing = FaceSeeing()
        truth = torch.rand(2, 3, 96, 96, generator=torch.Generator().manual_seed(1))
        soft = lambda n: torch.nn.functional.avg_pool2d(truth, n, 1, n // 2, count_include_pad=False)[:, :, :96, :96]
        for size in (96, HALVED_FROM):
            sizes = torch.full((2,), float(size))
            left = [float(unlike(seeing, made, truth, soft(7), sizes)) for made in (truth, soft(3), soft(5))]
            self.assertAlmostEqual(left[0], 0, places=5)
            self.assertLess(left[1], left[2])
        self.assertEqual([tuple(seen.shape[1:]) for seen in seeing(truth)], [(128, 12, 12), (256, 6, 6)])

    def test_it_teaches_what_it_looks_at_and_learns_nothing_itself(self):
        seeing = FaceSeeing()
        made = torch.rand(1, 3, 96, 96, requires_grad=True)
        unlike(seeing, made, torch.rand(1, 3, 96, 96), torch.rand(1, 3, 96, 96), torch.tensor([96.0])).backward()
        self.assertGreater(float(made.grad.abs().sum()), 0)
        self.assertEqual(list(seeing.parameters()), [])


class Resources(unittest.TestCase):
    def test_files_come_out_of_a_compiled_resource_as_they_went_in(self):
        picture, text = bytes(range(256)), b"as it is" * 40
        packed = struct.pack(">I", len(text)) + zlib.compress(text)
        # Names with their lengths and hashes; contents with their sizes; entries: the root, a folder of two, a picture, packed text, something else.
        names, places = b"", []
        for name in ("photos", "a.jpg", "b.txt", "c.zst"):
            places.append(len(names))
            names += struct.pack(">HI", len(name), 0) + name.encode("utf-16-be")
        contents, at = b"", []
        for content in (picture, packed, b"?"):
            at.append(len(contents))
            contents += struct.pack(">I", len(content)) + content
        file = lambda name, flags, start: struct.pack(">IHHHIQ", name, flags, 0, 0, start, 0)
        folder = lambda name, count, first: struct.pack(">IHIIQ", name, 2, count, first, 0)
        tree = folder(0, 1, 1) + folder(places[0], 3, 2) + file(places[1], 0, at[0]) + file(places[2], 1, at[1]) + file(places[3], 4, at[2])
        start = 24
        head = struct.pack(">4sIIIII", b"qres", 3, start + len(contents) + len(names), start, start + len(contents), 0)
        found = dict(files_in(head + contents + names + tree))
        self.assertEqual(found, {"/photos/a.jpg": picture, "/photos/b.txt": text})

    def test_what_is_no_resource_is_refused(self):
        with self.assertRaises(ValueError):
            list(files_in(b"PK" + bytes(40)))


class EightBits(unittest.TestCase):
    """A network with rounded features is near the one it was made of, and its file is the same network."""

    def setUp(self):
        torch.manual_seed(4)
        self.trunk = Trunk(7, 4, [8, 12, 16], [1, 1, 2]).eval()
        torch.nn.init.normal_(self.trunk.tail.weight, std=0.1)
        self.planes = torch.rand(2, 7, 16, 24)

    def test_equalised_channels_answer_the_same(self):
        with torch.no_grad():
            before = self.trunk(self.planes)
            equalise(self.trunk, lambda: self.trunk(self.planes))
            torch.testing.assert_close(self.trunk(self.planes), before, rtol=1e-3, atol=1e-4)

    def test_rounding_costs_little_and_learns(self):
        network = Rounded(self.trunk)
        network.calibrate(lambda: network(self.planes))
        exact, near = self.trunk(self.planes).detach(), network(self.planes)
        self.assertLess(float((near - exact).abs().mean()), 0.05 * float(exact.abs().mean()) + 1e-3)
        near.square().mean().backward()
        self.assertTrue(all(step.log.grad is not None for step in network.steps.values()))
        self.assertGreater(float(self.trunk.two[0].conv.weight.grad.abs().sum()), 0)

    def test_with_exact_ends_nothing_at_full_size_is_rounded(self):
        network = Rounded(self.trunk, ("one", "one_again"))
        network.calibrate(lambda: network(self.planes))
        exact, near = self.trunk(self.planes).detach(), network(self.planes).detach()
        rounded = Rounded(self.trunk)
        rounded.calibrate(lambda: rounded(self.planes))
        self.assertLess(float((near - exact).abs().mean()), float((rounded(self.planes).detach() - exact).abs().mean()))
        graph = Graph(network.eval())
        graph.model(7, 4)
        whole = {name.split(".")[0] for name in graph.constants if name.endswith("weight.whole")}
        self.assertEqual(whole, {"down1", "two", "down2", "three", "up2", "two_again", "up1"})

    def test_the_file_holds_whole_weights_within_seven_bits(self):
        network = Rounded(self.trunk)
        network.calibrate(lambda: network(self.planes))
        graph = Graph(network.eval())
        graph.model(7, 4)
        whole = [numpy_helper.to_array(value) for name, value in graph.constants.items() if name.endswith("weight.whole")]
        self.assertEqual(len(whole), 9)
        for weights in whole:
            self.assertEqual(weights.dtype, np.int8)
            self.assertEqual(int(np.abs(weights).max()), 63)


class AveragedTest(unittest.TestCase):
    def test_weights_lie_in_the_middle_and_the_rest_is_the_last_ones(self):
        one, other = ({"smoothed": {"a": torch.full((2, 2), value)}, "step": step, "former": {}} for value, step in ((1.0, 5), (4.0, 9)))
        made = averaged.mean_of([one, other])
        self.assertEqual(made["step"], 9)
        for state in (made["network"], made["smoothed"]):
            self.assertTrue(torch.equal(state["a"], torch.full((2, 2), 2.5)))
        self.assertIsNot(made["network"]["a"], made["smoothed"]["a"])

    def test_two_networks_have_no_mean(self):
        with self.assertRaises(SystemExit):
            averaged.mean_of([{"smoothed": {"a": torch.zeros(1)}}, {"smoothed": {"b": torch.zeros(1)}}])


class CrowdTest(unittest.TestCase):
    def test_what_a_crowd_differs_in_most_counts_least(self):
        random = np.random.default_rng(3)
        kind = np.eye(128)[5]
        people = 0.1 * random.standard_normal((2, 40, 128)) + random.choice([-1, 1], 40)[None, :, None] * kind + 0.2
        told = crowd.in_common(people)
        np.testing.assert_allclose(told["mean"], people.mean((0, 1)))
        self.assertEqual(told["directions"].shape, (crowd.DIRECTIONS, 128))
        np.testing.assert_allclose(told["directions"] @ told["directions"].T, np.eye(crowd.DIRECTIONS), atol=1e-6)
        self.assertGreater(abs(float(told["directions"][0] @ kind)), 0.99)
        self.assertTrue((np.diff(told["kept"]) >= 0).all())
        self.assertLess(told["kept"][0], 0.5)
        self.assertLess(told["kept"][-1], 1.001)


if __name__ == "__main__":
    cv2.setNumThreads(1)
    unittest.main()
