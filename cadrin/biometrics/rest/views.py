"""Templates and consents of a cardholder, and what the site has decided, over HTTP."""

from dataclasses import asdict
from typing import Any, ClassVar

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.biometrics.export import export_finger, see_picture
from cadrin.biometrics.proofs import MAIL, MOST_BYTES, proof_of, take_proof
from cadrin.biometrics.queries import consents_shown, templates_shown
from cadrin.biometrics.rest.shapes import (
    BiometricSettingsShape,
    BiometricsOf,
    FileShape,
    ReasonShape,
    TokenShape,
)
from cadrin.biometrics.save_settings import SettingsDraft, save_biometric_settings
from cadrin.biometrics.settings import biometric_settings, face_rule, finger_rule
from cadrin.biometrics.wordings import shown_wording
from cadrin.core.credentials.face.enrolment import FaceRule
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.false_matches import false_matches
from cadrin.core.credentials.finger.enrolment import FingerRule
from cadrin.core.errors import Invalid
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.people.queries import get_cardholder


class BiometricsOfOne(HouseView):
    """What may be shown of a cardholder's templates and consents."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=BiometricsOf)
    def get(self, request: Request, id: int) -> Response:
        get_cardholder(self.actor(), id)
        return Response(
            {"templates": templates_shown(id), "consents": consents_shown(id, timezone.now())}
        )


class ConsentProof(HouseView):
    """What proves a consent: the drawn signature, or the scan."""

    needs: ClassVar = {"GET": Permission.BIOMETRICS}

    @extend_schema(responses={(200, "application/octet-stream"): bytes})
    def get(self, request: Request, id: int, consent: int) -> HttpResponse:
        get_cardholder(self.actor(), id)
        proof = proof_of(self.actor(), id, consent)
        answer = HttpResponse(proof.content, content_type=proof.media_type)
        if proof.media_type == MAIL:  # what somebody sent is not shown as a page
            answer["Content-Disposition"] = 'attachment; filename="consent.eml"'
        return answer


class Proofs(HouseView):
    """Take a signature or a scan, of which a consent is made when the cardholder is saved."""

    needs: ClassVar = {"POST": Permission.BIOMETRICS}
    parser_classes = [MultiPartParser]

    @extend_schema(request={"multipart/form-data": FileShape}, responses={201: TokenShape})
    def post(self, request: Request) -> Response:
        sent = request.FILES.get("file")
        if sent is None:
            raise Invalid.of("input.required", "proof")
        if sent.size > MOST_BYTES:
            raise Invalid.of("consent.scan_too_large", "proof", most=MOST_BYTES // 2**20)
        token = take_proof(self.actor(), sent.read(), timezone.now())
        return Response({"token": token}, status.HTTP_201_CREATED)


class FingerExport(HouseView):
    """A finger as an ISO/IEC 19794-2:2005 record, with a reason that the journal keeps."""

    needs: ClassVar = {"POST": Permission.TEMPLATES}

    @extend_schema(request=ReasonShape, responses={(200, "application/octet-stream"): bytes})
    def post(self, request: Request, id: int, template: int) -> HttpResponse:
        get_cardholder(self.actor(), id)
        reason = self.given(ReasonShape, request)["reason"]
        record = export_finger(self.actor(), id, template, reason, timezone.now())
        answer = HttpResponse(record, content_type="application/octet-stream")
        answer["Content-Disposition"] = 'attachment; filename="finger.fmr"'
        return answer


class FingerPicture(HouseView):
    """The picture of a finger, where the site keeps any, with a reason that the journal keeps."""

    needs: ClassVar = {"POST": Permission.TEMPLATES}

    @extend_schema(request=ReasonShape, responses={(200, "image/png"): bytes})
    def post(self, request: Request, id: int, template: int) -> HttpResponse:
        get_cardholder(self.actor(), id)
        reason = self.given(ReasonShape, request)["reason"]
        picture = see_picture(self.actor(), id, template, reason, timezone.now())
        answer = HttpResponse(picture, content_type="image/png")
        answer["Cache-Control"] = "no-store"
        return answer


def _shown() -> dict[str, Any]:
    kept = biometric_settings()
    return {
        "version": kept.version,
        "rule": asdict(finger_rule(kept)),
        "face_rule": asdict(face_rule(kept)),
        "kept_days_after_departure": kept.kept_days_after_departure,
        "kept_picture_days": kept.kept_picture_days,
        "consent_days": kept.consent_days,
        "wording": shown_wording(),
        "false_matches": {
            factor.value: [
                {"match": at} | found._asdict()
                for at in range(101)
                if (found := false_matches(factor, at)) is not None
            ]
            for factor in (Factor.FINGER, Factor.FACE)
        },
    }


class BiometricSettings(HouseView):
    needs: ClassVar = {"GET": Permission.SEE, "PUT": Permission.SET_UP}

    @extend_schema(responses=BiometricSettingsShape)
    def get(self, request: Request) -> Response:
        return Response(_shown())

    @extend_schema(request=BiometricSettingsShape, responses=BiometricSettingsShape)
    def put(self, request: Request) -> Response:
        given = self.given(BiometricSettingsShape, request)
        rules = {
            "rule": FingerRule(**given["rule"]),
            "face_rule": FaceRule(**given["face_rule"]),
        }
        draft = SettingsDraft(**given | rules)
        save_biometric_settings(self.actor(), draft, timezone.now())
        return Response(_shown(), status.HTTP_200_OK)
