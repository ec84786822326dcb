package httpapi

import (
	"context"
	"encoding/json"

	"github.com/gin-gonic/gin"

	"uvent/desk/people"
	"uvent/httpapi/api"
)

// ChangePassword takes another password; whoever is signed in elsewhere has to do so again.
func (s *Server) ChangePassword(ctx context.Context, in api.ChangePasswordRequestObject) (api.ChangePasswordResponseObject, error) {
	c, who := ctx.(*gin.Context), person(ctx)
	if err := s.Desk.People.ChangePassword(ctx, who, in.Body.Password, in.Body.NewPassword); err != nil {
		return nil, err
	}
	this := s.sessions.GetString(c.Request.Context(), "id")
	_, err := s.endThose(c, who.ID, func(id string) bool { return id != this })
	return api.ChangePassword204Response{}, err
}

// AskReset has a letter sent by which a new password is chosen.
func (s *Server) AskReset(ctx context.Context, in api.AskResetRequestObject) (api.AskResetResponseObject, error) {
	return api.AskReset204Response{}, s.Desk.People.AskReset(ctx, in.Body.Email, address(ctx.(*gin.Context)))
}

// GetReset tells whose password can be chosen.
func (s *Server) GetReset(ctx context.Context, in api.GetResetRequestObject) (api.GetResetResponseObject, error) {
	email, err := s.Desk.People.ResetOf(ctx, in.Secret)
	return api.GetReset200JSONResponse{Email: email}, err
}

// Reset takes the password that was chosen.
func (s *Server) Reset(ctx context.Context, in api.ResetRequestObject) (api.ResetResponseObject, error) {
	p, err := s.Desk.People.Reset(ctx, in.Secret, in.Body.NewPassword)
	if err != nil {
		return nil, err
	}
	_, err = s.endThose(ctx.(*gin.Context), p.ID, all)
	return api.Reset204Response{}, err
}

// BeginSecondFactor begins an app's codes.
func (s *Server) BeginSecondFactor(ctx context.Context, in api.BeginSecondFactorRequestObject) (api.BeginSecondFactorResponseObject, error) {
	secret, address, err := s.Desk.People.BeginFactor(ctx, person(ctx), in.Body.Password, text(in.Body.Code))
	if err != nil {
		return nil, err
	}
	picture, err := qrCode(address)
	return api.BeginSecondFactor200JSONResponse{Secret: secret, Address: address, Picture: picture}, err
}

// KeepSecondFactor keeps them.
func (s *Server) KeepSecondFactor(ctx context.Context, in api.KeepSecondFactorRequestObject) (api.KeepSecondFactorResponseObject, error) {
	codes, err := s.Desk.People.KeepFactor(ctx, person(ctx), in.Body.Code)
	return api.KeepSecondFactor200JSONResponse{Codes: codes}, err
}

// DropSecondFactor takes them off.
func (s *Server) DropSecondFactor(ctx context.Context, in api.DropSecondFactorRequestObject) (api.DropSecondFactorResponseObject, error) {
	return api.DropSecondFactor204Response{}, s.Desk.People.DropFactor(ctx, person(ctx), in.Body.Password, text(in.Body.Code))
}

// MakeRecoveryCodes makes new recovery codes.
func (s *Server) MakeRecoveryCodes(ctx context.Context, in api.MakeRecoveryCodesRequestObject) (api.MakeRecoveryCodesResponseObject, error) {
	codes, err := s.Desk.People.NewRecovery(ctx, person(ctx), in.Body.Password, text(in.Body.Code))
	return api.MakeRecoveryCodes200JSONResponse{Codes: codes}, err
}

// GetSecurity tells what roles take to sign in.
func (s *Server) GetSecurity(ctx context.Context, _ api.GetSecurityRequestObject) (api.GetSecurityResponseObject, error) {
	roles, err := s.Desk.People.RolesWithFactor(ctx)
	out := api.GetSecurity200JSONResponse{SecondFactor: []api.SecuritySecondFactor{}}
	for _, r := range roles {
		out.SecondFactor = append(out.SecondFactor, api.SecuritySecondFactor(r))
	}
	return out, err
}

// SaveSecurity says of which roles a second factor is asked.
func (s *Server) SaveSecurity(ctx context.Context, in api.SaveSecurityRequestObject) (api.SaveSecurityResponseObject, error) {
	of := map[people.Role]bool{}
	for _, r := range in.Body.SecondFactor {
		of[people.Role(r)] = true
	}
	return api.SaveSecurity204Response{}, s.Desk.People.AskForFactor(ctx, person(ctx).Actor(), of)
}

func onePasskey(k people.Passkey) api.Passkey {
	return api.Passkey{Id: k.ID, Name: k.Name, At: k.At, UsedAt: k.UsedAt}
}

// GetPasskeys lists one's passkeys.
func (s *Server) GetPasskeys(ctx context.Context, _ api.GetPasskeysRequestObject) (api.GetPasskeysResponseObject, error) {
	list, err := s.Desk.People.Passkeys(ctx, person(ctx))
	out := make(api.GetPasskeys200JSONResponse, len(list))
	for i, k := range list {
		out[i] = onePasskey(k)
	}
	return out, err
}

// challengeKey is where in a session a challenge is kept until its answer.
const challengeKey = "challenge"

// challenge keeps a challenge in the session, and tells what the browser is to be asked.
func (s *Server) challenge(c *gin.Context, ch people.Challenge) (out map[string]any, err error) {
	s.sessions.Put(c.Request.Context(), challengeKey, ch.Kept)
	if err := s.commit(c); err != nil {
		return nil, err
	}
	b, err := json.Marshal(ch.Options)
	if err == nil {
		err = json.Unmarshal(b, &out)
	}
	return out, err
}

// challenged takes the challenge out of the session: it is answered once.
func (s *Server) challenged(c *gin.Context) (kept []byte, err error) {
	kept = s.sessions.PopBytes(c.Request.Context(), challengeKey)
	return kept, s.commit(c)
}

// BeginPasskey asks the browser to make a passkey.
func (s *Server) BeginPasskey(ctx context.Context, in api.BeginPasskeyRequestObject) (api.BeginPasskeyResponseObject, error) {
	ch, err := s.Desk.People.BeginPasskey(ctx, person(ctx), in.Body.Password, text(in.Body.Code))
	if err != nil {
		return nil, err
	}
	out, err := s.challenge(ctx.(*gin.Context), ch)
	return api.BeginPasskey200JSONResponse(out), err
}

// AddPasskey keeps the passkey that the browser has made.
func (s *Server) AddPasskey(ctx context.Context, in api.AddPasskeyRequestObject) (api.AddPasskeyResponseObject, error) {
	kept, err := s.challenged(ctx.(*gin.Context))
	if err != nil {
		return nil, err
	}
	answer, err := json.Marshal(in.Body.Credential)
	if err != nil {
		return nil, err
	}
	k, codes, err := s.Desk.People.AddPasskey(ctx, person(ctx), kept, in.Body.Name, answer)
	out := api.AddPasskey201JSONResponse{Passkey: onePasskey(k)}
	if codes != nil {
		out.Codes = &codes
	}
	return out, err
}

// DropPasskey takes a passkey off.
func (s *Server) DropPasskey(ctx context.Context, in api.DropPasskeyRequestObject) (api.DropPasskeyResponseObject, error) {
	return api.DropPasskey204Response{}, s.Desk.People.DropPasskey(ctx, person(ctx), in.Passkey, in.Body.Password)
}

// BeginPasskeySignIn asks the browser for a passkey.
func (s *Server) BeginPasskeySignIn(ctx context.Context, _ api.BeginPasskeySignInRequestObject) (api.BeginPasskeySignInResponseObject, error) {
	ch, err := s.Desk.People.BeginPasskeySignIn()
	if err != nil {
		return nil, err
	}
	out, err := s.challenge(ctx.(*gin.Context), ch)
	return api.BeginPasskeySignIn200JSONResponse(out), err
}

// SignInWithPasskey begins a session of whoever has the passkey.
func (s *Server) SignInWithPasskey(ctx context.Context, in api.SignInWithPasskeyRequestObject) (api.SignInWithPasskeyResponseObject, error) {
	c := ctx.(*gin.Context)
	kept, err := s.challenged(c)
	if err != nil {
		return nil, err
	}
	answer, err := json.Marshal(in.Body.Credential)
	if err != nil {
		return nil, err
	}
	p, known, err := s.Desk.People.SignInWithPasskey(ctx, kept, answer, address(c))
	if err != nil {
		return nil, err
	}
	return api.SignInWithPasskey200JSONResponse(s.session(p)), s.begin(c, p, known)
}
