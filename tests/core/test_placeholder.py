"""Placeholder sounds: length, level and pitch as asked for, and no two sorts alike."""

from __future__ import annotations

import io
import unittest
import wave

import numpy as np

from vocanta.core.project.media import media_of
from vocanta.core.project.placeholder import PEAK, RATE, SORTS, pitch_hz, placeholder


def samples(data):
    with wave.open(io.BytesIO(data)) as file:
        assert (file.getnchannels(), file.getsampwidth(), file.getframerate()) == (1, 2, RATE)
        return np.frombuffer(file.readframes(file.getnframes()), "<i2") / 32_767


def spectrum(found):
    return np.fft.rfftfreq(len(found), 1 / RATE), np.abs(np.fft.rfft(found))


class Placeholders(unittest.TestCase):
    def test_each_sort_is_as_long_and_as_loud_as_asked_and_begins_and_ends_in_silence(self):
        for sort in SORTS:
            for seconds in (0.05, 0.4, 2.0):
                data = placeholder(sort, seconds, 0.5, 0.3)
                found = samples(data)
                self.assertEqual(len(found), round(seconds * RATE), sort)
                self.assertAlmostEqual(np.max(np.abs(found)), PEAK, delta=0.001, msg=sort)
                self.assertGreater(np.sqrt(np.mean(found**2)), 0.02, sort)
                self.assertLess(max(abs(found[0]), abs(found[-1])), 0.01, sort)
                self.assertEqual((media_of(data).suffix, media_of(data).seconds), (".wav", round(seconds, 2)))

    def test_what_has_a_pitch_has_the_one_asked_for(self):
        for sort in ("hum", "chime", "knock"):
            for height in (0.1, 0.5, 0.9):
                freqs, loud = spectrum(samples(placeholder(sort, 1.0, height, 0.0)))
                self.assertAlmostEqual(freqs[np.argmax(loud)] / pitch_hz(height), 1.0, delta=0.06, msg=(sort, height))

    def test_higher_is_higher_for_every_sort(self):
        for sort in SORTS:
            middles = []
            for height in (0.1, 0.9):
                freqs, loud = spectrum(samples(placeholder(sort, 0.6, height, 0.0)))
                middles.append(np.sum(freqs * loud**2) / np.sum(loud**2))
            self.assertGreater(middles[1], 1.5 * middles[0], sort)

    def test_rougher_has_more_of_its_sound_beside_its_pitch(self):
        def flat(rough):
            _, loud = spectrum(samples(placeholder("hum", 1.0, 0.5, rough)))
            return np.exp(np.mean(np.log(loud + 1e-9))) / np.mean(loud)

        self.assertTrue(flat(0.0) < flat(0.3) < flat(0.8), [flat(r) for r in (0.0, 0.3, 0.8)])

    def test_the_same_words_give_the_same_bytes_and_no_two_sorts_the_same(self):
        made = [placeholder(sort, 0.3, 0.5, 0.2) for sort in SORTS]
        self.assertEqual(made, [placeholder(sort, 0.3, 0.5, 0.2) for sort in SORTS])
        self.assertEqual(len(set(made)), len(SORTS))
